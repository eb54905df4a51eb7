import { Box } from "@chakra-ui/react";
import { Suspense, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { type Catalogue, type Installation, Refusal, type Schemas, type StageName } from "../../api/client";
import { understood, useCatalogue, useInstallation, useSession } from "../../api/hooks";
import { useDraft } from "../../editing/useDraft";
import { SpeedLine, unfinished } from "../../speedline/SpeedLine";
import { STAGES, stageLabel } from "../../speedline/stages";
import { useDialog } from "../../ui/address";
import { useAnnounced } from "../../ui/announce";
import { Frame, Quiet } from "../../ui/Frame";
import { chooseInstallationFile, offerInstallationFile } from "../../ui/files";
import { Guarded } from "../../ui/Guarded";
import { useKeys } from "../../ui/keys";
import { lazily } from "../../ui/lazily";
import { Message } from "../../ui/Message";
import { useAsked } from "../../ui/Sheet";
import { UnitsOfVehicle } from "../../ui/units";
import { useInSlices } from "../../ui/useInSlices";
import { t } from "../../ui/words";
import { Conflict } from "./Conflict";
import { EditingProvider } from "./context";
import { Details } from "./Details";
import { Logbook } from "./Logbook";
import { NextBar } from "./NextBar";
import { BrokenDraft, Problems, Replacing, Taken } from "./Notices";
import { Change } from "./Reasons";
import { loadStage } from "./stageParts";
import { SAVE_WORDS, Title } from "./Title";
import { Work } from "./Work";

const BenchPlace = lazily(() => import("./bench/BenchPlace"));

const AHEAD_MS = 6000;

export default function InstallationPlace() {
  const id = Number(useParams().id);
  const installation = useInstallation(id);
  const catalogue = useCatalogue();
  const known = useInSlices(installation.data);
  const texts = useInSlices(catalogue.data);
  if (known?.id === id && texts) {
    const editor = <Editor key={id} installation={known} catalogue={texts} />;
    return (
      <UnitsOfVehicle vehicle={known.vehicle_id} afloat={known.head.document.vehicle_kind === "boat"}>
        {editor}
      </UnitsOfVehicle>
    );
  }
  const error = installation.error ?? catalogue.error;
  return (
    <Frame>
      <Message text={error ? error.message : t("Opening the installation …")} back={Boolean(error)} />
      {error instanceof Refusal && error.status === 422 && (
        <Box px={4}>
          <a href={`/api/installations/${id}/stored`} download>
            <u>{t("Download the stored file")}</u>
          </a>
        </Box>
      )}
    </Frame>
  );
}

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
  const [dialog, openDialog] = useDialog();
  const [logbook, details] = [useAsked(dialog === "logbook"), useAsked(dialog === "details")];
  const [readout, chooseReadout] = useState(0);
  const [importError, setImportError] = useState("");
  const [incoming, bring] = useState<Installation | null>(null);
  const { problems, of } = draft.evaluating;
  // figures are drawn in slices, so that the page and a drag on it go on meanwhile
  const evaluated = useInSlices(draft.evaluating.evaluated);
  const onWater = evaluated?.document.vehicle_kind === "boat";
  const stale = of === draft.document && problems.length > 0;
  const there = useCallback(
    (name: string) => {
      // where the browser is, not where this page was drawn: a second click may come before the first is seen
      const path = `/installation/${installation.id}/${name}`;
      if (location.pathname !== path) go(path);
    },
    [installation.id, go],
  );
  const bench = useCallback(() => there(onBench ? "signal" : "bench"), [there, onBench]);
  const choose: (name: StageName) => void = there;
  const unverified = () => {
    const from = STAGES.indexOf(stage) + 1;
    const order = [...STAGES.slice(from), ...STAGES.slice(0, from)];
    const next = order.find((name) =>
      evaluated?.result.stages.some((item) => item.stage === name && item.evidence !== "verified"),
    );
    if (next) choose(next);
  };
  const { replace } = draft;
  const importFile = useCallback(() => {
    setImportError("");
    chooseInstallationFile()
      .then(understood)
      .then(bring, (error: Error) => setImportError(error.message));
  }, []);
  const toggleWhy = useCallback(() => showWhy((open) => !open), []);
  useKeys({
    ...Object.fromEntries(STAGES.map((name, place) => [String(place + 1), () => choose(name)])),
    b: bench,
    n: unverified,
    w: toggleWhy,
    l: () => openDialog("logbook"),
    v: () => go(`/vehicle/${installation.vehicle_id}`),
    "mod+z": draft.undo,
    "mod+shift+z": draft.redo,
    "mod+y": draft.redo,
  });
  const shownReadout = Math.min(
    readout,
    draft.document.readouts.length - 1,
    (evaluated?.result.readouts.length ?? 1) - 1,
  );
  useEffect(() => {
    const later = window.setTimeout(() => {
      for (const name of STAGES) loadStage(name).catch(() => undefined);
    }, AHEAD_MS);
    return () => window.clearTimeout(later);
  }, []);
  const editing = useMemo(
    () =>
      evaluated && {
        installationId: installation.id,
        vehicleId: installation.vehicle_id,
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
      installation.vehicle_id,
    ],
  );
  const toFillIn = draft.save === "refused" && unfinished(problems);
  useAnnounced(draft.save === "waiting" || draft.save === "saving" ? "" : SAVE_WORDS[draft.save]);
  const title = useMemo(
    () => (
      <Title
        vehicleId={installation.vehicle_id}
        vehicle={installation.vehicle_name}
        name={draft.document.name}
        save={draft.save}
        number={draft.base.number}
        toFillIn={toFillIn}
        error={draft.error}
      />
    ),
    [
      installation.vehicle_id,
      installation.vehicle_name,
      draft.document.name,
      draft.save,
      draft.base.number,
      toFillIn,
      draft.error,
    ],
  );
  const tools = useMemo(
    () => (
      <>
        <Quiet onClick={draft.undo} disabled={!draft.canUndo} label={t("Undo")}>
          <Arrow back />
        </Quiet>
        <Quiet onClick={draft.redo} disabled={!draft.canRedo} label={t("Redo")}>
          <Arrow />
        </Quiet>
        <Quiet onClick={bench} pressed={onBench}>
          {t("Bench")}
        </Quiet>
      </>
    ),
    [draft.undo, draft.redo, draft.canUndo, draft.canRedo, bench, onBench],
  );
  const exported = useRef(draft.document);
  exported.current = evaluated?.document ?? draft.document;
  const items = useMemo(
    () => [
      { label: t("Details"), act: () => openDialog("details") },
      { label: t("Logbook"), act: () => openDialog("logbook") },
      { label: t("Find a fault"), act: () => go(`/installation/${installation.id}/faults`) },
      { label: t("Job sheets"), act: () => go(`/installation/${installation.id}/jobs`) },
      { label: t("All installations of this vehicle"), act: () => go(`/vehicle/${installation.vehicle_id}`) },
      {
        label: t("Export"),
        act: () => offerInstallationFile(exported.current, `${installation.vehicle_name} ${exported.current.name}`),
      },
      { label: t("Import"), act: importFile },
    ],
    [openDialog, go, installation.id, installation.vehicle_id, installation.vehicle_name, importFile],
  );
  return (
    <Frame
      title={`${installation.vehicle_name} / ${draft.document.name}, ${onBench ? "bench" : stageLabel(stage, onWater).toLowerCase()}`}
      middle={title}
      tools={tools}
      items={items}
    >
      {importError && <Message text={importError} bad />}
      {incoming && (
        <Replacing
          was={draft.document.name}
          by={incoming.name}
          yes={() => {
            replace(incoming);
            bring(null);
          }}
          no={() => bring(null)}
        />
      )}
      {draft.broken && !dropped && (
        <BrokenDraft text={draft.broken} installationId={installation.id} drop={() => drop(true)} />
      )}
      {!editing || !evaluated ? (
        <Message
          text={
            draft.evaluating.away
              ? SAVE_WORDS.away
              : draft.evaluating.failed
                ? t("The server failed at this installation. Trying again …")
                : t("Computing …")
          }
        />
      ) : (
        <EditingProvider editing={editing}>
          <Box position="sticky" top={0} zIndex={2} bg="bg">
            <Guarded part={t("The speed line")} again={draft.document}>
              <SpeedLine
                result={evaluated.result}
                now={evaluated.shown_now[0]}
                catalogue={catalogue}
                chosen={onBench ? null : stage}
                choose={choose}
                problems={problems}
                stale={stale}
                failed={draft.evaluating.failed === draft.document}
                onWater={onWater}
                sensorKind={evaluated.document.sensor.kind}
              />
            </Guarded>
          </Box>
          <Guarded part={t("This message")} again={draft.document}>
            {details && (
              <Details installationId={installation.id} open={dialog === "details"} close={() => openDialog(null)} />
            )}
            <Problems
              problems={problems}
              catalogue={catalogue}
              choose={choose}
              chooseReadout={chooseReadout}
              onWater={onWater}
            />
            <Taken taken={draft.taken} catalogue={catalogue} dismiss={draft.dismissTaken} />
            <Change catalogue={catalogue} before={draft.before} after={evaluated.result} changed={draft.changed} />
            {!unfinished(problems) && (
              <NextBar
                action={evaluated.result.next_action}
                go={choose}
                onWater={onWater}
                installationId={installation.id}
                vehicleId={installation.vehicle_id}
              />
            )}
          </Guarded>
          {onBench ? (
            <Guarded part={t("The bench")} again={draft.document}>
              <Suspense fallback={<Message text={t("Setting up …")} />}>
                <BenchPlace />
              </Suspense>
            </Guarded>
          ) : (
            <Suspense key={stage} fallback={<Message text={t("Opening …")} />}>
              <Work
                stage={stage}
                onWater={onWater}
                result={evaluated.result}
                readout={shownReadout}
                chooseReadout={chooseReadout}
                choose={choose}
                why={why}
                toggleWhy={toggleWhy}
                installationId={installation.id}
                vehicleId={installation.vehicle_id}
              />
            </Suspense>
          )}
        </EditingProvider>
      )}
      <Guarded part={t("This dialog")} again={draft.document}>
        {logbook && (
          <Logbook
            installationId={installation.id}
            head={draft.base.number}
            open={dialog === "logbook"}
            close={() => openDialog(null)}
            restore={draft.replace}
          />
        )}
        {draft.conflict && <Conflict conflict={draft.conflict} resolve={draft.resolve} catalogue={catalogue} />}
      </Guarded>
    </Frame>
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
