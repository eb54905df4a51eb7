import { Pending } from "../../ui/Pending";
import "./vehicles.css";
import { Box, Button, chakra, Flex, Heading, Stack, Text } from "@chakra-ui/react";
import { Fragment, memo, useDeferredValue, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { useCatalogue } from "../../api/hooks";
import { useVehicles, type VehicleFilter } from "../../api/pages";
import { EvidenceStroke } from "../../speedline/EvidenceStroke";
import { useAddressed, useDialog } from "../../ui/address";
import { Frame } from "../../ui/Frame";
import { Select, TextInput } from "../../ui/fields";
import { percent } from "../../ui/format";
import { Guarded } from "../../ui/Guarded";
import { useKeys } from "../../ui/keys";
import { Message } from "../../ui/Message";
import { isOtherwise, useShownNow } from "../../ui/shownNow";
import { isBad, STATES, type State } from "../../ui/states";
import { FiguresOfVehicle, useUnits } from "../../ui/units";
import { useInSlices } from "../../ui/useInSlices";
import { t } from "../../ui/words";
import { choicesAt, labelAt } from "../installation/schema";
import { CopySheet } from "./CopySheet";
import { VehicleSheet } from "./VehicleSheet";

type Vehicle = Schemas["VehicleOut"];
type Summary = Schemas["InstallationSummary"];
const Jump = chakra(Link);

const ORDER = Object.keys(STATES) as State[];

/** The vehicles and their installations, those first that need something. */
export default function VehiclesPlace() {
  const [wanted, search] = useState("");
  const [state, byState] = useAddressed("state");
  const [purpose, byPurpose] = useAddressed("purpose");
  const [kind, byKind] = useAddressed("kind");
  const chosen = {
    state: (state as State | null) ?? undefined,
    purpose: (purpose as VehicleFilter["purpose"]) ?? undefined,
    kind: (kind as VehicleFilter["kind"]) ?? undefined,
  };
  const list = useVehicles({ search: useDeferredValue(wanted.trim()), ...chosen });
  const catalogue = useCatalogue().data;
  const kindOf = (vehicle: Vehicle) => (catalogue ? labelAt(catalogue, "vehicle_kind", vehicle.kind) : "");
  const go = useNavigate();
  const box = useRef<HTMLInputElement>(null);
  const [dialog, open] = useDialog();
  const [what, of] = (dialog ?? "").split("-");
  useKeys({ "/": () => box.current?.focus() });
  const pages = useInSlices(catalogue && list.data?.pages);
  const vehicles = pages?.flatMap((page) => page.vehicles) ?? [];
  const counts = pages?.[0];
  const filtered = wanted.trim() !== "" || Boolean(state || purpose || kind);
  const all = () => {
    search("");
    go("/");
  };
  return (
    <Frame title={t("Vehicles")}>
      <Box px={{ base: 3, md: 4 }} pb={6} w="100%" maxW="1480px" mx="auto">
        <Flex gap={3} align="center" wrap="wrap" py={2}>
          <Heading as="h1" size="2xl" mr="auto">
            {t("Vehicles")}
          </Heading>
          <Button colorPalette="signal" minH="44px" onClick={() => go("/new")}>
            {t("New installation")}
          </Button>
        </Flex>
        {(filtered || !pages || vehicles.length > 0) && (
          <Flex gap={2} pb={3} align="center" wrap="wrap" role="search">
            <Box w={{ base: "100%", md: "190px" }}>
              <TextInput
                ref={box}
                aria-label={t("Search vehicles and installations")}
                placeholder={t("Search  /")}
                value={wanted}
                onChange={(event) => search(event.target.value)}
              />
            </Box>
            <StateFilter counts={counts} chosen={chosen.state} choose={byState} />
            {catalogue && (
              <>
                <Narrow label={t("Purpose")} value={purpose} change={byPurpose} options={catalogue.purposes} />
                <Narrow
                  label={t("Vehicle type")}
                  value={kind}
                  change={byKind}
                  options={choicesAt(catalogue, "vehicle_kind")}
                />
              </>
            )}
          </Flex>
        )}
        {!pages && <Pending asked={list} text={t("Opening the vehicles …")} />}
        {pages && vehicles.length === 0 && !filtered && <Empty />}
        {pages && vehicles.length === 0 && filtered && (
          <Flex align="center" gap={3} wrap="wrap">
            <Message
              text={wanted.trim() ? t("No vehicle or installation matches “{0}”.", wanted) : t("Nothing matches.")}
            />
            <Button variant="outline" minH="44px" onClick={all}>
              {t("Show all")}
            </Button>
          </Flex>
        )}
        <Stack gap={2}>
          {vehicles.map((vehicle) => (
            <Guarded key={vehicle.id} part={vehicle.name} again={vehicle}>
              <FiguresOfVehicle vehicle={vehicle.id} afloat={vehicle.kind === "boat"}>
                <VehicleRows vehicle={vehicle} kind={kindOf(vehicle)} open={open} />
              </FiguresOfVehicle>
            </Guarded>
          ))}
        </Stack>
        {list.hasNextPage && (
          <Button variant="outline" minH="44px" mt={2} onClick={() => list.fetchNextPage()}>
            {t("Show more vehicles ({0} of {1})", vehicles.length, counts?.total)}
          </Button>
        )}
        {pages && (
          <Jump to="/bin" display="inline-block" py={2} color="fg.muted" textDecoration="underline">
            {t("Bin: what was deleted in the last 30 days")}
          </Jump>
        )}
      </Box>
      {vehicles.map((vehicle) => (
        <Fragment key={vehicle.id}>
          {what === "edit" && of === String(vehicle.id) && <VehicleSheet vehicle={vehicle} close={() => open(null)} />}
          {what === "copy" &&
            vehicle.installations?.map(
              (installation) =>
                of === String(installation.id) && (
                  <CopySheet
                    key={installation.id}
                    installation={installation}
                    vehicleId={vehicle.id}
                    close={() => open(null)}
                  />
                ),
            )}
        </Fragment>
      ))}
    </Frame>
  );
}

type Counts = { installations: number } & Record<State, number>;

/** How many are in each state; one press shows those alone. */
function StateFilter(props: { counts?: Counts; chosen?: State; choose: (state: string | null) => void }) {
  const { counts, chosen, choose } = props;
  const options: [string | null, string, number][] = [
    [null, t("All"), counts?.installations ?? 0],
    ...ORDER.map((state): [string, string, number] => [state, STATES[state][1], counts?.[state] ?? 0]),
  ];
  return (
    <Flex as="fieldset" gap={1} wrap="wrap" aria-label={t("State")} data-testid="vehicles-state">
      {options
        .filter(([state, , count]) => state === null || state === chosen || count > 0)
        .map(([state, label, count]) => (
          <Button
            key={label}
            size="sm"
            variant={(state ?? undefined) === chosen ? "solid" : "outline"}
            minH={{ base: "44px", md: "40px" }}
            px={3}
            aria-pressed={(state ?? undefined) === chosen}
            onClick={() => choose(state)}
          >
            {label} <chakra.span fontFamily="mono">{count}</chakra.span>
          </Button>
        ))}
    </Flex>
  );
}

function Narrow(props: {
  label: string;
  value: string | null;
  change: (code: string | null) => void;
  options: readonly { code: string; label: string }[];
}) {
  const { label, value, change, options } = props;
  return (
    <Box w={{ base: "calc(50% - 4px)", md: "190px" }}>
      <Select
        name={label}
        value={value ?? ""}
        change={(code) => change(code || null)}
        options={[{ code: "", label: t("{0}: all", label) }, ...options]}
      />
    </Box>
  );
}

function Empty() {
  return (
    <Box bg="bg.panel" p={6} borderRadius="md" maxW="640px">
      <Heading as="h2" size="lg" mb={2}>
        {t("No vehicle yet")}
      </Heading>
      <Text mb={4}>
        {t(
          "An installation is one sensor on one vehicle, from the wheel on the ground to the number on the display. Start one by saying what the reading is for; that decides where to sense.",
        )}
      </Text>
      <Jump to="/new" textDecoration="underline" color="signal.fg">
        {t("Start the first installation")}
      </Jump>
    </Box>
  );
}

type RowsProps = { vehicle: Vehicle; kind: string; open: (dialog: string) => void };

const VehicleRows = memo(function VehicleRows({ vehicle, kind, open }: RowsProps) {
  return (
    <article aria-label={vehicle.name} className="vehicle">
      <div className="vehicle-head">
        <h2>
          <Link to={`/vehicle/${vehicle.id}`}>{vehicle.name}</Link>
        </h2>
        <span className="vehicle-note">{[kind, vehicle.note].filter(Boolean).join(". ")}</span>
        <Link
          to={`/new?vehicle=${vehicle.id}`}
          aria-label={t("New installation on {0}", vehicle.name)}
          className="vehicle-new"
        >
          {t("New installation")}
        </Link>
        <button type="button" className="vehicle-edit" onClick={() => open(`edit-${vehicle.id}`)}>
          {t("Edit")}
        </button>
      </div>
      {vehicle.installations?.map((installation) => (
        <InstallationRow
          key={installation.id}
          installation={installation}
          copy={() => open(`copy-${installation.id}`)}
        />
      ))}
      {vehicle.unreadable?.map((installation) => (
        <Unreadable key={installation.id} installation={installation} />
      ))}
    </article>
  );
});

/** A stored document that cannot be used: what it is, why, and the file as it is stored. */
function Unreadable({ installation }: { installation: Schemas["UnreadableInstallation"] }) {
  return (
    <Box bg="bad.subtle" px={4} py={2} data-testid="unreadable">
      <Text fontWeight="600">{installation.name}</Text>
      <Text color="bad.fg" fontSize="sm">
        {t("✕ This installation cannot be opened. {0}", installation.reason)}
      </Text>
      <a
        href={`/api/installations/${installation.id}/stored`}
        download
        style={{ display: "inline-block", padding: "8px 0" }}
      >
        <u>{t("Download the stored file")}</u>
      </a>
    </Box>
  );
}

function InstallationRow({ installation, copy }: { installation: Summary; copy: () => void }) {
  const { show, speedUnit } = useUnits();
  const really = useShownNow();
  const otherwise = isOtherwise(installation.shown_now);
  const [mark, state] = STATES[installation.state];
  const bad = isBad(installation.state);
  const task = installation.tasks[0]?.text;
  const says = bad ? installation.finding : task ? t("To do: {0}", task) : t("Next: {0}", installation.next_action);
  const more = installation.tasks.length;
  return (
    <div className="row">
      <Link
        to={`/installation/${installation.id}/wheel`}
        className="row-link"
        data-testid="installation-row"
        data-state={installation.state}
      >
        <span className="row-state">
          {mark} {state}
        </span>
        <span className="row-name">{installation.name}</span>
        <span className="row-stages">
          {installation.stages.map((stage) => (
            <EvidenceStroke key={stage.stage} evidence={stage.evidence} small />
          ))}
        </span>
        <span className="row-speed">
          {show(installation.true_kmh, "km/h")[0]} →{" "}
          {otherwise ? (
            <b className="row-bad">{really(installation.shown_now)[0]}</b>
          ) : (
            <b>{show(installation.shown_kmh, "km/h", installation.expanded_uncertainty_pct / 2)[0]}</b>
          )}{" "}
          <span className="row-small">{otherwise ? really(installation.shown_now)[1] : speedUnit}</span>
        </span>
        <span className="row-unsure">{!otherwise && `± ${percent(installation.expanded_uncertainty_pct)} %`}</span>
        <span className="row-says" data-testid={task && !bad ? "installation-tasks" : undefined}>
          {more > 1 && !bad ? t("{0} (and {1} more)", says, more - 1) : says}
        </span>
      </Link>
      <div className="row-more">
        {installation.open_fault !== null && (
          <Link
            to={`/fault/${installation.open_fault}`}
            className="row-button row-fault"
            aria-label={t("Open fault of {0}", installation.name)}
          >
            {t("Open fault")}
          </Link>
        )}
        <button type="button" className="row-button" aria-label={t("Copy {0}", installation.name)} onClick={copy}>
          {t("Copy")}
        </button>
      </div>
    </div>
  );
}
