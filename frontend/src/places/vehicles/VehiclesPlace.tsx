import { Box, Button, chakra, Flex, Grid, Heading, Input, Stack, Text } from "@chakra-ui/react";
import { useDeferredValue, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { Away, Refusal, type Schemas } from "../../api/client";
import { useCatalogue, useVehicleChanges, useVehicles } from "../../api/hooks";
import { EvidenceStroke } from "../../speedline/EvidenceStroke";
import { Frame } from "../../ui/Frame";
import { chooseInstallationFile } from "../../ui/files";
import { percent } from "../../ui/format";
import { Guarded } from "../../ui/Guarded";
import { useKeys } from "../../ui/keys";
import { Message } from "../../ui/Message";
import { Sheet } from "../../ui/Sheet";
import { Knots, useUnits } from "../../ui/units";
import { VehicleSheet } from "./VehicleSheet";

type Vehicle = Schemas["VehicleOut"];
type Summary = Schemas["InstallationSummary"];
const Jump = chakra(Link);

/** The vehicles, what blocks, what is unverified, and where to begin. */
export default function VehiclesPlace() {
  const [wanted, search] = useState("");
  const list = useVehicles(useDeferredValue(wanted.trim()));
  const go = useNavigate();
  const box = useRef<HTMLInputElement>(null);
  useKeys({ "/": () => box.current?.focus() });
  const vehicles = list.data?.pages.flatMap((page) => page.vehicles) ?? [];
  const counts = list.data?.pages[0];
  return (
    <Frame title="Vehicles">
      <Box px={{ base: 3, md: 4 }} pb={6} w="100%" maxW="1480px" mx="auto">
        <Flex gap={3} align="center" wrap="wrap" py={3}>
          <Heading as="h1" size="2xl" mr="auto">
            Vehicles
            <Text as="span" fontSize="md" fontWeight="400" color="fg.muted" ml={3} data-testid="vehicles-state">
              {counts &&
                counts.installations > 0 &&
                `${counts.failed ? `${counts.failed} failed, ` : ""}${counts.blocked ? `${counts.blocked} blocked, ` : ""}${counts.tasks ? `${counts.tasks} to do, ` : ""}${counts.unverified} of ${counts.installations} not yet verified`}
            </Text>
          </Heading>
          <Input
            ref={box}
            aria-label="Search vehicles and installations"
            placeholder="Search  /"
            value={wanted}
            onChange={(event) => search(event.target.value)}
            w={{ base: "100%", md: "220px" }}
            minH="44px"
            bg="bg.panel"
            borderColor="border.emphasized"
          />
          <Button colorPalette="signal" minH="44px" onClick={() => go("/new")}>
            New installation
          </Button>
        </Flex>
        {list.isPending && <Message text="Opening the vehicles …" />}
        {list.error && <Message text={list.error.message} bad />}
        {list.data && vehicles.length === 0 && wanted.trim() === "" && <Empty />}
        {list.data && vehicles.length === 0 && wanted.trim() !== "" && (
          <Message text={`No vehicle or installation matches “${wanted}”.`} />
        )}
        <Box columnCount={{ base: 1, md: 2, xl: 3 }} columnGap={4}>
          {vehicles.map((vehicle) => (
            <Guarded key={vehicle.id} part={vehicle.name} again={vehicle}>
              {vehicle.kind === "boat" ? (
                <Knots>
                  <VehicleCard vehicle={vehicle} />
                </Knots>
              ) : (
                <VehicleCard vehicle={vehicle} />
              )}
            </Guarded>
          ))}
        </Box>
        {list.hasNextPage && (
          <Button variant="outline" minH="44px" onClick={() => list.fetchNextPage()}>
            Show more vehicles ({vehicles.length} of {counts?.total})
          </Button>
        )}
        {list.data && (
          <Jump to="/bin" display="inline-block" py={2} color="fg.muted" textDecoration="underline">
            Bin: what was deleted in the last 30 days
          </Jump>
        )}
      </Box>
    </Frame>
  );
}

function Empty() {
  return (
    <Box bg="bg.panel" p={6} borderRadius="md" maxW="640px">
      <Heading as="h2" size="lg" mb={2}>
        No vehicle yet
      </Heading>
      <Text mb={4}>
        An installation is one sensor on one vehicle, from the wheel on the ground to the number on the display. Start
        one by saying what the reading is for; that decides where to sense.
      </Text>
      <Jump to="/new" textDecoration="underline" color="signal.fg">
        Start the first installation
      </Jump>
    </Box>
  );
}

function VehicleCard({ vehicle }: { vehicle: Vehicle }) {
  const catalogue = useCatalogue().data;
  const { addInstallation, deleteVehicle } = useVehicleChanges();
  const [error, setError] = useState("");
  const [asking, ask] = useState(false);
  const [editing, edit] = useState(false);
  const kind = catalogue?.vehicle_kinds.find((item) => item.code === vehicle.kind)?.label ?? "";
  const importFile = async () => {
    setError("");
    try {
      await addInstallation.mutateAsync({ vehicle: vehicle.id, document: await chooseInstallationFile() });
    } catch (reason) {
      const field = reason instanceof Refusal ? reason.problems[0] : undefined;
      const refused = field ? `This file cannot be used. ${field.path}: ${field.message} ${field.remedy}` : "";
      setError(refused || (reason instanceof Error ? reason.message : new Away().message));
    }
  };
  return (
    <Box
      as="article"
      aria-label={vehicle.name}
      bg="bg.panel"
      borderRadius="md"
      overflow="hidden"
      display="flex"
      flexDirection="column"
      mb={4}
      style={{ breakInside: "avoid" }}
    >
      <Box px={4} pt={3} pb={2}>
        <Flex align="baseline" gap={2}>
          <Heading as="h2" size="lg">
            <Link
              to={`/vehicle/${vehicle.id}`}
              style={{ display: "inline-block", padding: "6px 0", textDecoration: "underline" }}
              title="All installations at one speed"
            >
              {vehicle.name}
            </Link>
          </Heading>
          <Text color="fg.muted" fontSize="sm">
            {kind}
          </Text>
        </Flex>
        <Text fontSize="sm" color="fg.muted">
          {vehicle.note}
        </Text>
      </Box>
      <Stack gap={0} flex="1">
        {vehicle.installations?.map((installation) => (
          <InstallationRow key={installation.id} installation={installation} />
        ))}
      </Stack>
      {vehicle.unreadable?.map((installation) => (
        <Unreadable key={installation.id} installation={installation} />
      ))}
      {error && <Message text={error} bad />}
      <Flex px={2} py={1} gap={1} wrap="wrap">
        <Jump
          to={`/new?vehicle=${vehicle.id}`}
          aria-label={`New installation on ${vehicle.name}`}
          px={2}
          py={2}
          fontSize="sm"
          textDecoration="underline"
          minH="40px"
        >
          New installation
        </Jump>
        <Button size="sm" variant="ghost" color="fg" minH="40px" onClick={importFile}>
          Import file
        </Button>
        <Button size="sm" variant="ghost" color="fg" minH="40px" ml="auto" onClick={() => edit(true)}>
          Edit
        </Button>
        <Button size="sm" variant="ghost" color="fg" minH="40px" onClick={() => ask(true)}>
          Delete …
        </Button>
      </Flex>
      {editing && <VehicleSheet vehicle={vehicle} close={() => edit(false)} />}
      <Sheet
        open={asking}
        close={() => ask(false)}
        title={`Delete ${vehicle.name}?`}
        size="md"
        footer={
          <>
            <Button variant="outline" onClick={() => ask(false)}>
              Cancel
            </Button>
            <Button
              colorPalette="red"
              onClick={() => deleteVehicle.mutate({ id: vehicle.id, version: vehicle.version })}
            >
              Delete
            </Button>
          </>
        }
      >
        {deleteVehicle.error && <Message text={deleteVehicle.error.message} bad />}
        <Text>
          Its {vehicle.installations?.length ?? 0} installation(s) go into the bin with it, with their logbooks. They
          can be restored from there for 30 days.
        </Text>
      </Sheet>
    </Box>
  );
}

/** A stored document that cannot be used: what it is, why, and the file as it is stored. */
function Unreadable({ installation }: { installation: Schemas["UnreadableInstallation"] }) {
  return (
    <Box bg="bad.subtle" px={4} py={2} data-testid="unreadable">
      <Text fontWeight="600">{installation.name}</Text>
      <Text color="bad.fg" fontSize="sm">
        ✕ This installation cannot be opened. {installation.reason}
      </Text>
      <a
        href={`/api/installations/${installation.id}/stored`}
        download
        style={{ display: "inline-block", padding: "8px 0" }}
      >
        <u>Download the stored file</u>
      </a>
    </Box>
  );
}

function InstallationRow({ installation }: { installation: Summary }) {
  const blocked = installation.worst === "blocking";
  const { show, speedUnit } = useUnits();
  return (
    <Jump
      to={`/installation/${installation.id}/wheel`}
      display="block"
      bg="road"
      color="chalk"
      px={4}
      py={2}
      borderTopWidth="2px"
      borderColor="road.edge"
      _hover={{ bg: "road.chosen" }}
      data-testid="installation-row"
    >
      <Flex justify="space-between" columnGap={2} align="baseline" wrap={{ base: "wrap", md: "nowrap" }}>
        <Text fontWeight="600" truncate>
          {installation.name}
        </Text>
        <Text fontFamily="mono" whiteSpace="nowrap">
          {show(installation.true_kmh, "km/h")[0]} →{" "}
          <b>{show(installation.shown_kmh, "km/h", installation.expanded_uncertainty_pct / 2)[0]}</b>{" "}
          <chakra.span color="chalk.dim" fontSize="sm">
            {speedUnit} ± {percent(installation.expanded_uncertainty_pct)} %
          </chakra.span>
        </Text>
      </Flex>
      <Grid templateColumns="repeat(6, 1fr)" gap={1} my={1}>
        {installation.stages.map((stage) => (
          <EvidenceStroke key={stage.stage} evidence={stage.evidence} />
        ))}
      </Grid>
      <Text fontSize="sm" color={blocked ? "bad.onRoad" : "chalk.dim"} lineClamp={2} minH="2.6em">
        {blocked ? `✕ ${installation.finding}` : `Next: ${installation.next_action}`}
      </Text>
      {installation.tasks.length > 0 && (
        <Text fontSize="sm" color="signal.onRoad" data-testid="installation-tasks">
          ! {installation.tasks.length} to do: {installation.tasks[0]?.text}
        </Text>
      )}
    </Jump>
  );
}
