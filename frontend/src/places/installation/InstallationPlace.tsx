import { Box, Button, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { lazy, Suspense, useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { type Catalogue, Refusal, type Schemas, type StageName } from "../../api/client";
import { understood, useCatalogue, useInstallation, useSession } from "../../api/hooks";
import type { SaveState } from "../../editing/session";
import { type Draft, useDraft } from "../../editing/useDraft";
import { belongsTo, SpeedLine, STAGES, stageLabel } from "../../speedline/SpeedLine";
import { useAddressed } from "../../ui/address";
import { Frame, Quiet } from "../../ui/Frame";
import { chooseInstallationFile, offer, offerInstallationFile } from "../../ui/files";
import { Guarded } from "../../ui/Guarded";
import { useKeys } from "../../ui/keys";
import { Message } from "../../ui/Message";
import { UnitsOnWater } from "../../ui/units";
import { Conflict } from "./Conflict";
import { InstallationContext } from "./context";
import { Details } from "./Details";
import { DriveInputs, DriveResult } from "./drive/DriveInputs";
import { fieldLabel } from "./fieldLabels";
import { Logbook } from "./Logbook";
import { NextBar } from "./NextBar";
import { Change, Contributions, Why } from "./Reasons";
import { ReadoutInputs } from "./readout/ReadoutInputs";
import { ReadoutResult } from "./readout/ReadoutResult";
import { SensorInputs } from "./sensor/SensorInputs";
import { SensorResult } from "./sensor/SensorResult";
import { SignalInputs } from "./signal/SignalInputs";
import { SignalResult } from "./signal/SignalResult";
import * as stages from "./stages";
import { Tasks } from "./Tasks";
import { TargetInputs } from "./target/TargetInputs";
import { TargetResult } from "./target/TargetResult";
import { WheelInputs } from "./wheel/WheelInputs";
import { WheelResult } from "./wheel/WheelResult";

const BenchPlace = lazy(() => import("./bench/BenchPlace"));

export default function InstallationPlace() {
  const id = Number(useParams().id);
  const installation = useInstallation(id);
  const catalogue = useCatalogue();
  if (installation.data && catalogue.data) {
    const editor = <Editor key={id} installation={installation.data} catalogue={catalogue.data} />;
    return installation.data.head.document.vehicle_kind === "boat" ? <UnitsOnWater>{editor}</UnitsOnWater> : editor;
  }
  const error = installation.error ?? catalogue.error;
  return (
    <Frame>
      <Message text={error ? error.message : "Opening the installation …"} back={Boolean(error)} />
      {error instanceof Refusal && error.status === 422 && (
        <Box px={4}>
          <a href={`/api/installations/${id}/stored`} download>
            <u>Download the stored file</u>
          </a>
        </Box>
      )}
    </Frame>
  );
}

const SAVE_WORDS: Record<SaveState, string> = {
  saved: "Saved",
  waiting: "Not saved yet …",
  saving: "Saving …",
  away: "Server cannot be reached. Kept on this device, trying again",
  refused: "Not saved: correct the marked field",
  failed: "Not saved: the server failed. Kept on this device, trying again",
  conflict: "Someone else saved a newer revision",
  "signed out": "Signed out. Kept on this device: sign in again",
};

function Editor({ installation, catalogue }: { installation: Schemas["InstallationOut"]; catalogue: Catalogue }) {
  const params = useParams();
  const go = useNavigate();
  const session = useSession().data;
  const draft = useDraft(session?.username ?? "", installation.id, installation.head);
  const role = session?.role ?? "";
  const [dropped, drop] = useState(false);
  const onBench = params.stage === "bench";
  const stage = STAGES.find((name) => name === params.stage) ?? "wheel";
  const [why, showWhy] = useState(false);
  const [dialog, openDialog] = useAddressed("open");
  const [readout, chooseReadout] = useState(0);
  const [importError, setImportError] = useState("");
  const { evaluated, problems, of } = draft.evaluating;
  const onWater = evaluated?.document.vehicle_kind === "boat";
  const stale = of === draft.document && problems.length > 0;
  const there = (name: string) => params.stage !== name && go(`/installation/${installation.id}/${name}`);
  const bench = () => there(onBench ? "signal" : "bench");
  const choose = (name: StageName) => there(name);
  const unverified = () => {
    const from = STAGES.indexOf(stage) + 1;
    const order = [...STAGES.slice(from), ...STAGES.slice(0, from)];
    const next = order.find((name) =>
      evaluated?.result.stages.some((item) => item.stage === name && item.evidence !== "verified"),
    );
    if (next) choose(next);
  };
  const importFile = () => {
    setImportError("");
    chooseInstallationFile()
      .then(understood)
      .then(draft.replace, (error: Error) => setImportError(error.message));
  };
  useKeys({
    ...Object.fromEntries(STAGES.map((name, place) => [String(place + 1), () => choose(name)])),
    b: bench,
    n: unverified,
    w: () => showWhy(!why),
    l: () => openDialog("logbook"),
    v: () => go(`/vehicle/${installation.vehicle_id}`),
    "mod+z": draft.undo,
    "mod+shift+z": draft.redo,
    "mod+y": draft.redo,
  });
  const editing = useMemo(
    () =>
      evaluated && {
        installationId: installation.id,
        base: draft.base,
        saved: draft.save === "saved",
        document: draft.document,
        evaluated,
        problems,
        catalogue,
        role,
        set: draft.set,
        preview: draft.preview,
        commit: draft.commit,
        command: draft.command,
        applied: draft.applied,
      },
    [
      installation.id,
      draft.base,
      draft.save,
      draft.document,
      evaluated,
      problems,
      catalogue,
      role,
      draft.set,
      draft.preview,
      draft.commit,
      draft.command,
      draft.applied,
    ],
  );
  const trouble = !["saved", "waiting", "saving"].includes(draft.save);
  const title = (
    <Box minW={0} lineHeight="1.2">
      <Text truncate minW={0} as="h1">
        <Link
          to={`/vehicle/${installation.vehicle_id}`}
          style={{ display: "inline-block", padding: "6px 0 4px", textDecoration: "underline", fontWeight: 700 }}
        >
          {installation.vehicle_name}
        </Link>{" "}
        / {draft.document.name}
      </Text>
      <Text
        fontSize="xs"
        color={trouble ? "signal.fg" : "fg.muted"}
        fontWeight={trouble ? "700" : undefined}
        aria-live="polite"
        data-testid="save-state"
        data-state={draft.save}
      >
        {SAVE_WORDS[draft.save]}
        {draft.save === "saved" && `, revision ${draft.base.number}`}
        {draft.error && ` (${draft.error})`}
      </Text>
    </Box>
  );
  const tools = (
    <>
      <Quiet onClick={draft.undo} disabled={!draft.canUndo} label="Undo">
        <Arrow back />
      </Quiet>
      <Quiet onClick={draft.redo} disabled={!draft.canRedo} label="Redo">
        <Arrow />
      </Quiet>
      <Quiet onClick={bench} pressed={onBench}>
        Bench
      </Quiet>
    </>
  );
  const items = [
    { label: "Details", act: () => openDialog("details") },
    { label: "Logbook", act: () => openDialog("logbook") },
    { label: "All installations of this vehicle", act: () => go(`/vehicle/${installation.vehicle_id}`) },
    {
      label: "Export",
      act: () =>
        offerInstallationFile(
          evaluated?.document ?? draft.document,
          `${installation.vehicle_name} ${draft.document.name}`,
        ),
    },
    { label: "Import", act: importFile },
  ];
  return (
    <Frame
      title={`${installation.vehicle_name} / ${draft.document.name}, ${onBench ? "bench" : stageLabel(stage, onWater).toLowerCase()}`}
      middle={title}
      tools={tools}
      items={items}
    >
      {importError && <Message text={importError} bad />}
      {draft.broken && !dropped && (
        <BrokenDraft text={draft.broken} installationId={installation.id} drop={() => drop(true)} />
      )}
      {!editing || !evaluated ? (
        <Message text={draft.evaluating.away ? SAVE_WORDS.away : "Computing …"} />
      ) : (
        <InstallationContext value={editing}>
          <Box position="sticky" top={0} zIndex={2} bg="bg">
            <Guarded part="The speed line" again={draft.document}>
              <SpeedLine
                result={evaluated.result}
                catalogue={catalogue}
                chosen={onBench ? null : stage}
                choose={choose}
                problems={problems}
                stale={stale}
                onWater={onWater}
                sensorKind={evaluated.document.sensor.kind}
              />
            </Guarded>
          </Box>
          <Guarded part="This message" again={draft.document}>
            <Details installationId={installation.id} open={dialog === "details"} close={() => openDialog(null)} />
            <Problems problems={problems} choose={choose} onWater={onWater} />
            <Taken taken={draft.taken} catalogue={catalogue} dismiss={draft.dismissTaken} />
            <Change catalogue={catalogue} before={draft.before} after={evaluated.result} changed={draft.changed} />
            <NextBar action={evaluated.result.next_action} go={choose} onWater={onWater}>
              <Tasks installationId={installation.id} />
            </NextBar>
          </Guarded>
          {onBench ? (
            <Guarded part="The bench" again={draft.document}>
              <Suspense fallback={<Message text="Setting up …" />}>
                <BenchPlace />
              </Suspense>
            </Guarded>
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
                aria-label={`${stageLabel(stage, onWater)}: what is known`}
                bg="bg.panel"
                p={4}
                borderRadius="md"
                order={{ base: stage === "readout" ? 2 : 0, md: 0 }}
              >
                <Guarded part="This form" again={draft.document}>
                  <Inputs
                    stage={stage}
                    readout={Math.min(readout, draft.document.readouts.length - 1)}
                    choose={chooseReadout}
                  />
                </Guarded>
              </Box>
              <Stack
                as="section"
                aria-label={`${stageLabel(stage, onWater)}: what follows`}
                gap={3}
                bg="bg.panel"
                p={4}
                borderRadius="md"
                minW={0}
              >
                <Guarded part="This view" again={draft.document}>
                  <Results stage={stage} readout={Math.min(readout, evaluated.result.readouts.length - 1)} />
                </Guarded>
                <Guarded part="This explanation" again={draft.document}>
                  <stages.Findings stage={stage} />
                  <Grid templateColumns={{ base: "1fr", xl: why ? "1fr 1fr" : "1fr" }} gap={3}>
                    <Why stage={stage} open={why} toggle={() => showWhy(!why)} />
                    <Contributions go={choose} />
                  </Grid>
                </Guarded>
              </Stack>
            </Grid>
          )}
        </InstallationContext>
      )}
      <Guarded part="This dialog" again={draft.document}>
        <Logbook
          installationId={installation.id}
          head={draft.base.number}
          open={dialog === "logbook"}
          close={() => openDialog(null)}
          restore={draft.replace}
        />
        {draft.conflict && <Conflict conflict={draft.conflict} resolve={draft.resolve} catalogue={catalogue} />}
      </Guarded>
    </Frame>
  );
}

/** Somebody else saved other fields meanwhile: they were taken over, and nothing of one's own was touched. */
function Taken(props: { taken: Draft["taken"]; catalogue: Catalogue; dismiss: () => void }) {
  const { taken, catalogue, dismiss } = props;
  if (!taken) return null;
  return (
    <Flex role="status" bg="bg.subtle" px={4} py={2} gap={3} align="center" wrap="wrap" data-testid="taken">
      <Text>
        Revision {taken.number}, saved by someone else, was merged with your changes. Taken over:{" "}
        {[...new Set(taken.paths.map((path) => fieldLabel(catalogue, path)))].join(", ")}.
      </Text>
      <Button size="sm" variant="outline" onClick={dismiss}>
        Close
      </Button>
    </Flex>
  );
}

/** A draft kept on this device that cannot be used: it can be taken out as a file. */
function BrokenDraft({ text, installationId, drop }: { text: string; installationId: number; drop: () => void }) {
  return (
    <Flex role="alert" bg="bad.subtle" px={4} py={2} gap={3} align="center" wrap="wrap" data-testid="broken-draft">
      <Text color="bad.fg">✕ A draft on this device cannot be used. The saved version is shown.</Text>
      <Button size="sm" variant="outline" onClick={() => offer(new Blob([text]), `draft-${installationId}.json`)}>
        Save the draft as a file
      </Button>
      <Button size="sm" variant="outline" onClick={drop}>
        Close
      </Button>
    </Flex>
  );
}

/** Undo and redo. */
function Arrow({ back }: { back?: boolean }) {
  return (
    <svg
      width="20"
      height="18"
      viewBox="0 0 20 18"
      aria-hidden="true"
      style={back ? undefined : { transform: "scaleX(-1)" }}
    >
      <path d="M7 1 2 6l5 5M2.5 6H12a5 5 0 0 1 0 10H7" fill="none" stroke="currentColor" strokeWidth="2" />
    </svg>
  );
}

function Problems({
  problems,
  choose,
  onWater,
}: {
  problems: Schemas["FieldProblem"][];
  choose: (stage: StageName) => void;
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
            {stageLabel(belongsTo(problem.path), onWater)}
          </Button>
        </Flex>
      ))}
    </Box>
  );
}

function Inputs({ stage, readout, choose }: { stage: StageName; readout: number; choose: (place: number) => void }) {
  if (stage === "wheel") return <WheelInputs />;
  if (stage === "drive") return <DriveInputs />;
  if (stage === "target") return <TargetInputs />;
  if (stage === "sensor") return <SensorInputs />;
  if (stage === "signal") return <SignalInputs />;
  return <ReadoutInputs chosen={readout} choose={choose} />;
}

function Results({ stage, readout }: { stage: StageName; readout: number }) {
  if (stage === "wheel") return <WheelResult />;
  if (stage === "drive") return <DriveResult />;
  if (stage === "target") return <TargetResult />;
  if (stage === "sensor") return <SensorResult />;
  if (stage === "signal") return <SignalResult />;
  return <ReadoutResult chosen={readout} />;
}
