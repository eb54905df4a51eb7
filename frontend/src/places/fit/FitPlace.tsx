import { Box, Button, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { lazy, Suspense, useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Catalogue, LinkName, Schemas } from "../../api/client";
import { useCatalogue, useFit, useSession } from "../../api/hooks";
import { belongsTo, LINKS, linkLabel, SpeedLine } from "../../speedline/SpeedLine";
import { Frame, Quiet } from "../../ui/Frame";
import { chooseFitFile, offerFitFile } from "../../ui/files";
import { useKeys } from "../../ui/keys";
import { Message } from "../../ui/Message";
import { Conflict } from "./Conflict";
import { FitContext } from "./context";
import { Details } from "./Details";
import { Due } from "./Due";
import { DriveInputs, DriveResult } from "./drive/DriveInputs";
import { Logbook } from "./Logbook";
import * as links from "./links";
import { NextBar } from "./NextBar";
import { Change, Contributions, Why } from "./Reasons";
import { ReadoutInputs } from "./readout/ReadoutInputs";
import { ReadoutResult } from "./readout/ReadoutResult";
import { SensorInputs } from "./sensor/SensorInputs";
import { SensorResult } from "./sensor/SensorResult";
import { SignalInputs } from "./signal/SignalInputs";
import { SignalResult } from "./signal/SignalResult";
import { TargetInputs } from "./target/TargetInputs";
import { TargetResult } from "./target/TargetResult";
import { type Draft, type SaveState, useDraft } from "./useDraft";
import { WheelInputs } from "./wheel/WheelInputs";
import { WheelResult } from "./wheel/WheelResult";

const BenchPlace = lazy(() => import("./bench/BenchPlace"));

export default function FitPlace() {
  const id = Number(useParams().id);
  const fit = useFit(id);
  const catalogue = useCatalogue();
  if (fit.data && catalogue.data) return <Editor key={id} fit={fit.data} catalogue={catalogue.data} />;
  const error = fit.error ?? catalogue.error;
  return (
    <Frame>
      <Message text={error ? error.message : "Opening the fit …"} back={Boolean(error)} />
    </Frame>
  );
}

const SAVE_WORDS: Record<SaveState, string> = {
  saved: "Saved",
  waiting: "Not saved yet …",
  saving: "Saving …",
  away: "Server away. Kept on this device, trying again",
  mend: "Not saved: mend the marked field",
  conflict: "Somebody saved before you",
  "signed out": "Signed out. Kept on this device: sign in again",
};

function Editor({ fit, catalogue }: { fit: Schemas["FitOut"]; catalogue: Catalogue }) {
  const params = useParams();
  const go = useNavigate();
  const draft = useDraft(fit.id, fit.head);
  const role = useSession().data?.role ?? "";
  const onBench = params.link === "bench";
  const link = LINKS.find((name) => name === params.link) ?? "wheel";
  const [why, showWhy] = useState(false);
  const [logbook, openLogbook] = useState(false);
  const [details, openDetails] = useState(false);
  const [readout, chooseReadout] = useState(0);
  const [importError, setImportError] = useState("");
  const { evaluated, problems, of } = draft.evaluating;
  const onWater = evaluated?.document.vehicle_kind === "boat";
  const stale = of === draft.document && problems.length > 0;
  const bench = () => go(`/fit/${fit.id}/${onBench ? "signal" : "bench"}`, { replace: true });
  const choose = (name: LinkName) => go(`/fit/${fit.id}/${name}`, { replace: true });
  const unproven = () => {
    const from = LINKS.indexOf(link) + 1;
    const order = [...LINKS.slice(from), ...LINKS.slice(0, from)];
    const next = order.find((name) =>
      evaluated?.result.links.some((one) => one.link === name && one.evidence !== "proven"),
    );
    if (next) choose(next);
  };
  const importFile = () => {
    setImportError("");
    chooseFitFile().then(draft.replace, (error: Error) => setImportError(error.message));
  };
  useKeys({
    ...Object.fromEntries(LINKS.map((name, place) => [String(place + 1), () => choose(name)])),
    b: bench,
    n: unproven,
    w: () => showWhy(!why),
    l: () => openLogbook(true),
    v: () => go(`/vehicle/${fit.vehicle_id}`),
    "mod+z": draft.undo,
    "mod+shift+z": draft.redo,
    "mod+y": draft.redo,
  });
  const editing = useMemo(
    () =>
      evaluated && {
        fitId: fit.id,
        base: draft.base,
        saved: draft.save === "saved",
        document: draft.document,
        evaluated,
        problems,
        catalogue,
        role,
        set: draft.set,
      },
    [fit.id, draft.base, draft.save, draft.document, evaluated, problems, catalogue, role, draft.set],
  );
  const title = (
    <Flex align="center" gap={{ base: 1, md: 3 }} minW={0}>
      <Text truncate minW={0}>
        <Link
          to={`/vehicle/${fit.vehicle_id}`}
          title="All fits of this vehicle"
          style={{ display: "inline-block", padding: "8px 0", textDecoration: "underline", fontWeight: 700 }}
        >
          {fit.vehicle_name}
        </Link>{" "}
        / {draft.document.name}
      </Text>
    </Flex>
  );
  return (
    <Frame middle={title}>
      <Toolbar
        draft={draft}
        bench={bench}
        onBench={onBench}
        openDetails={() => openDetails(true)}
        openLogbook={() => openLogbook(true)}
        importFile={importFile}
        name={fit.vehicle_name}
      />
      {importError && <Message text={importError} bad />}
      {!editing || !evaluated ? (
        <Message text={draft.evaluating.away ? SAVE_WORDS.away : "Working it out …"} />
      ) : (
        <FitContext value={editing}>
          <Box position="sticky" top={0} zIndex={2} bg="bg">
            <SpeedLine
              result={evaluated.result}
              catalogue={catalogue}
              chosen={onBench ? null : link}
              choose={choose}
              problems={problems}
              stale={stale}
              onWater={onWater}
              sensorKind={evaluated.document.sensor.kind}
            />
          </Box>
          <Details fitId={fit.id} open={details} close={() => openDetails(false)} />
          <Problems problems={problems} choose={choose} onWater={onWater} />
          <Change before={draft.before} after={evaluated.result} changed={draft.changed} />
          <Due fitId={fit.id} />
          <NextBar action={evaluated.result.next_action} go={choose} onWater={onWater} />
          {onBench ? (
            <Suspense fallback={<Message text="Setting up …" />}>
              <BenchPlace />
            </Suspense>
          ) : (
            <Grid
              templateColumns={{ base: "1fr", md: "minmax(320px, 400px) minmax(0, 1fr)" }}
              gap={4}
              px={{ base: 3, md: 4 }}
              py={2}
              flex="1"
            >
              <Box
                as="section"
                aria-label={`${linkLabel(link, onWater)}: what is known`}
                bg="bg.panel"
                p={4}
                borderRadius="md"
                order={{ base: link === "readout" ? 2 : 0, md: 0 }}
              >
                <Inputs
                  link={link}
                  readout={Math.min(readout, draft.document.readouts.length - 1)}
                  choose={chooseReadout}
                />
              </Box>
              <Stack
                as="section"
                aria-label={`${linkLabel(link, onWater)}: what follows`}
                gap={3}
                bg="bg.panel"
                p={4}
                borderRadius="md"
                minW={0}
              >
                <Results link={link} readout={Math.min(readout, evaluated.result.readouts.length - 1)} />
                <links.Findings link={link} />
                <Grid templateColumns={{ base: "1fr", xl: why ? "1fr 1fr" : "1fr" }} gap={3}>
                  <Why link={link} open={why} toggle={() => showWhy(!why)} />
                  <Contributions go={choose} />
                </Grid>
              </Stack>
            </Grid>
          )}
        </FitContext>
      )}
      <Logbook
        fitId={fit.id}
        head={draft.base}
        open={logbook}
        close={() => openLogbook(false)}
        restore={draft.replace}
      />
      {draft.conflict && (
        <Conflict
          mine={draft.document}
          theirs={draft.conflict}
          keepMine={draft.keepMine}
          takeTheirs={draft.takeTheirs}
        />
      )}
    </Frame>
  );
}

function Toolbar({
  draft,
  bench,
  onBench,
  openDetails,
  openLogbook,
  importFile,
  name,
}: {
  draft: Draft;
  bench: () => void;
  onBench: boolean;
  openDetails: () => void;
  openLogbook: () => void;
  importFile: () => void;
  name: string;
}) {
  const trouble = !["saved", "waiting", "saving"].includes(draft.save);
  return (
    <Flex px={{ base: 2, md: 4 }} pb={1} gap={{ base: 0, md: 1 }} align="center" wrap="wrap">
      <Text
        fontSize="sm"
        color={trouble ? "signal.fg" : "fg.muted"}
        fontWeight={trouble ? "700" : undefined}
        mr="auto"
        px={{ base: 1, md: 0 }}
        w={{ base: "100%", md: "auto" }}
        aria-live="polite"
        data-testid="save-state"
        data-state={draft.save}
      >
        {SAVE_WORDS[draft.save]}
        {draft.save === "saved" && `, revision ${draft.base}`}
        {draft.saveError && ` (${draft.saveError})`}
      </Text>
      <Quiet onClick={bench} pressed={onBench}>
        Bench
      </Quiet>
      <Quiet onClick={draft.undo} disabled={!draft.canUndo}>
        Undo
      </Quiet>
      <Quiet onClick={draft.redo} disabled={!draft.canRedo}>
        Redo
      </Quiet>
      <Quiet onClick={openDetails}>Details</Quiet>
      <Quiet onClick={openLogbook}>Logbook</Quiet>
      <Quiet
        onClick={() =>
          offerFitFile(draft.evaluating.evaluated?.document ?? draft.document, `${name} ${draft.document.name}`)
        }
      >
        Export
      </Quiet>
      <Quiet onClick={importFile}>Import</Quiet>
    </Flex>
  );
}

function Problems({
  problems,
  choose,
  onWater,
}: {
  problems: Schemas["FieldProblem"][];
  choose: (link: LinkName) => void;
  onWater: boolean;
}) {
  if (problems.length === 0) return null;
  return (
    <Box role="alert" bg="bad.subtle" px={{ base: 3, md: 4 }} py={2}>
      {problems.slice(0, 4).map((problem) => (
        <Flex key={problem.path + problem.message} align="center" gap={2} wrap="wrap">
          <Text color="bad.fg" fontWeight="600">
            ✕ {problem.message}
          </Text>
          <Text>{problem.remedy}</Text>
          <Button size="xs" variant="outline" onClick={() => choose(belongsTo(problem.path))}>
            {linkLabel(belongsTo(problem.path), onWater)}
          </Button>
        </Flex>
      ))}
    </Box>
  );
}

function Inputs({ link, readout, choose }: { link: LinkName; readout: number; choose: (place: number) => void }) {
  if (link === "wheel") return <WheelInputs />;
  if (link === "drive") return <DriveInputs />;
  if (link === "target") return <TargetInputs />;
  if (link === "sensor") return <SensorInputs />;
  if (link === "signal") return <SignalInputs />;
  return <ReadoutInputs chosen={readout} choose={choose} />;
}

function Results({ link, readout }: { link: LinkName; readout: number }) {
  if (link === "wheel") return <WheelResult />;
  if (link === "drive") return <DriveResult />;
  if (link === "target") return <TargetResult />;
  if (link === "sensor") return <SensorResult />;
  if (link === "signal") return <SignalResult />;
  return <ReadoutResult chosen={readout} />;
}
