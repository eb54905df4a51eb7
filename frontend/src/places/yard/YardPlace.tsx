import { Box, Button, chakra, Flex, Grid, Heading, Input, Stack, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { Away, Refusal, type Schemas } from "../../api/client";
import { useCatalogue, useYard, useYardChanges } from "../../api/hooks";
import { EvidenceStroke } from "../../speedline/EvidenceStroke";
import { Frame } from "../../ui/Frame";
import { chooseFitFile } from "../../ui/files";
import { percent } from "../../ui/format";
import { useKeys } from "../../ui/keys";
import { Message } from "../../ui/Message";
import { Sheet } from "../../ui/Sheet";
import { useUnits } from "../../ui/units";
import { VehicleSheet } from "./VehicleSheet";

type Vehicle = Schemas["VehicleOut"];
type Summary = Schemas["FitSummary"];
const Jump = chakra(Link);

/** The vehicles, what blocks, what is unproven, and where to begin. */
export default function YardPlace() {
  const yard = useYard();
  const go = useNavigate();
  const [wanted, search] = useState("");
  const box = useRef<HTMLInputElement>(null);
  useKeys({ "/": () => box.current?.focus() });
  const vehicles = yard.data ?? [];
  const fits = vehicles.flatMap((vehicle) => vehicle.fits ?? []);
  const found = vehicles.filter((vehicle) =>
    `${vehicle.name} ${vehicle.note} ${vehicle.fits?.map((fit) => fit.name).join(" ")}`
      .toLowerCase()
      .includes(wanted.trim().toLowerCase()),
  );
  const blocked = fits.filter((fit) => fit.worst === "blocking").length;
  const due = fits.reduce((sum, fit) => sum + fit.due.length, 0);
  const unproven = fits.filter((fit) => fit.links.some((link) => link.evidence !== "proven")).length;
  return (
    <Frame>
      <Box px={{ base: 3, md: 4 }} pb={6} w="100%" maxW="1480px" mx="auto">
        <Flex gap={3} align="center" wrap="wrap" py={3}>
          <Heading as="h1" size="2xl" mr="auto">
            Yard
            <Text as="span" fontSize="md" fontWeight="400" color="fg.muted" ml={3} data-testid="yard-state">
              {fits.length > 0 &&
                `${blocked ? `${blocked} blocked, ` : ""}${due ? `${due} due, ` : ""}${unproven} of ${fits.length} not yet proven`}
            </Text>
          </Heading>
          <Input
            ref={box}
            aria-label="Search vehicles and fits"
            placeholder="Search  /"
            value={wanted}
            onChange={(event) => search(event.target.value)}
            w={{ base: "100%", md: "220px" }}
            minH="44px"
            bg="bg.panel"
            borderColor="border.emphasized"
          />
          <Button colorPalette="signal" minH="44px" onClick={() => go("/new")}>
            New fit
          </Button>
        </Flex>
        {yard.isPending && <Message text="Opening the yard …" />}
        {yard.error && <Message text={yard.error.message} bad />}
        {yard.data && vehicles.length === 0 && <Empty />}
        {vehicles.length > 0 && found.length === 0 && <Message text={`Nothing here is called “${wanted}”.`} />}
        <Box columnCount={{ base: 1, md: 2, xl: 3 }} columnGap={4}>
          {found.map((vehicle) => (
            <VehicleCard key={vehicle.id} vehicle={vehicle} />
          ))}
        </Box>
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
        A fit is one sensor on one vehicle, from the wheel on the ground to the number on the display. Start one by
        saying what the reading is for; that decides where to sense.
      </Text>
      <Jump to="/new" textDecoration="underline" color="signal.fg">
        Start the first fit
      </Jump>
    </Box>
  );
}

function VehicleCard({ vehicle }: { vehicle: Vehicle }) {
  const catalogue = useCatalogue().data;
  const { addFit, deleteVehicle } = useYardChanges();
  const [error, setError] = useState("");
  const [asking, ask] = useState(false);
  const [editing, edit] = useState(false);
  const kind = catalogue?.vehicle_kinds.find((one) => one.code === vehicle.kind)?.label ?? "";
  const importFile = async () => {
    setError("");
    try {
      await addFit.mutateAsync({ vehicle: vehicle.id, document: await chooseFitFile() });
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
              title="All its fits at one speed"
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
        {vehicle.fits?.map((fit) => (
          <FitRow key={fit.id} fit={fit} />
        ))}
      </Stack>
      {error && <Message text={error} bad />}
      <Flex px={2} py={1} gap={1} wrap="wrap">
        <Jump
          to={`/new?vehicle=${vehicle.id}`}
          aria-label={`New fit on ${vehicle.name}`}
          px={2}
          py={2}
          fontSize="sm"
          textDecoration="underline"
          minH="40px"
        >
          New fit
        </Jump>
        <Button size="sm" variant="ghost" color="fg" minH="40px" onClick={importFile}>
          Import a fit
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
              Keep it
            </Button>
            <Button colorPalette="red" onClick={() => deleteVehicle.mutate(vehicle.id)}>
              Delete for good
            </Button>
          </>
        }
      >
        <Text>
          Its {vehicle.fits?.length ?? 0} fit(s) and every revision in their logbooks go with it. Export what you want
          to keep first.
        </Text>
      </Sheet>
    </Box>
  );
}

function FitRow({ fit }: { fit: Summary }) {
  const blocked = fit.worst === "blocking";
  const { show, speedUnit } = useUnits();
  return (
    <Jump
      to={`/fit/${fit.id}/wheel`}
      display="block"
      bg="road"
      color="chalk"
      px={4}
      py={2}
      borderTopWidth="2px"
      borderColor="road.edge"
      _hover={{ bg: "road.chosen" }}
      data-testid="fit-row"
    >
      <Flex justify="space-between" columnGap={2} align="baseline" wrap={{ base: "wrap", md: "nowrap" }}>
        <Text fontWeight="600" truncate>
          {fit.name}
        </Text>
        <Text fontFamily="mono" whiteSpace="nowrap">
          {show(fit.true_kmh, "km/h")[0]} → <b>{show(fit.shown_kmh, "km/h", fit.expanded_uncertainty_pct / 2)[0]}</b>{" "}
          <chakra.span color="chalk.dim" fontSize="sm">
            {speedUnit} ± {percent(fit.expanded_uncertainty_pct)} %
          </chakra.span>
        </Text>
      </Flex>
      <Grid templateColumns="repeat(6, 1fr)" gap={1} my={1}>
        {fit.links.map((link) => (
          <EvidenceStroke key={link.link} evidence={link.evidence} />
        ))}
      </Grid>
      <Text fontSize="sm" color={blocked ? "bad.onRoad" : "chalk.dim"} lineClamp={2} minH="2.6em">
        {blocked ? `✕ ${fit.finding}` : `Next: ${fit.next_action}`}
      </Text>
      {fit.due.length > 0 && (
        <Text fontSize="sm" color="signal.onRoad" data-testid="fit-due">
          ! {fit.due.length} due: {fit.due[0]?.text}
        </Text>
      )}
    </Jump>
  );
}
