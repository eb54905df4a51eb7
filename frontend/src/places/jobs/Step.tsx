import { Box, Button, Flex, Image, Stack, Text } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";
import { api, data, newKey } from "../../api/client";
import { useWrite } from "../../api/hooks";
import { textNow } from "../../jobs/law";
import { smaller } from "../../jobs/photo";
import type { Entry, JobSheet, Waiting } from "../../jobs/queue";
import { ChoiceField, TextField } from "../../ui/fields";
import { fixed } from "../../ui/format";
import { Small } from "../../ui/Small";
import { Tick } from "../../ui/Tick";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";

type SheetStep = JobSheet["steps"][number];
type Add = (item: { entry: Entry } | { photo: Blob; step: string; key: string }) => Promise<boolean>;

type Props = {
  step: SheetStep;
  number: number;
  record: JobSheet["records"][number];
  photos: JobSheet["photos"];
  notApplied: JobSheet["not_applied"][number]["problem"] | undefined;
  waiting: Waiting[];
  sheet: JobSheet;
  by: string;
  /** What was measured on this device and is not sent yet, by step. */
  waitingValues: ReadonlyMap<string, string>;
  add: Add;
  drop: (item: Waiting) => unknown;
  again: (item: Waiting) => unknown;
};

/** What a sheet does not take stays as a note on its vehicle. */
const useKeepAsNote = (sheet: JobSheet, step: SheetStep) =>
  useWrite(({ entry }: { entry: Entry }, headers) => {
    const said = [entry.value && `${entry.value} ${entry.unit}`.trim(), entry.reason, entry.by].filter(Boolean);
    return data(
      api.POST("/api/vehicles/{vehicle_id}/notes", {
        params: { path: { vehicle_id: sheet.vehicle_id } },
        headers,
        body: {
          kind: "note",
          value: null,
          km: null,
          text: [sheet.title, step.text, ...said].join("; ").slice(0, 400),
          on: entry.at.slice(0, 10),
          installation_id: sheet.installation,
        },
      }),
    );
  });

/** One step: what to do, its caution, and the buttons for it; what was done stands there at once, sent or not. */
export function Step(props: Props) {
  const { step, number, record, photos, notApplied, waiting, waitingValues, sheet, by, add, drop, again } = props;
  const keep = useKeepAsNote(sheet, step);
  const own = waiting.filter((item): item is Waiting & { entry: Entry } => "entry" in item);
  const last = own.filter((item) => !item.refused && item.entry.what !== "checked").at(-1)?.entry;
  const refused = waiting.filter((item) => item.refused);
  const state = last ? seen(last, step) : record.state;
  const locked = Boolean(sheet.signed_at);
  const say = (some: Partial<Entry> & Pick<Entry, "what">) =>
    add({
      entry: {
        key: newKey(),
        step: step.code,
        answer: null,
        value: "",
        unit: "",
        tool: "",
        reason: "",
        acknowledged: false,
        by,
        at: new Date().toISOString(),
        ...some,
      },
    });
  const choose = async (one: JobSheet["records"][number]["rivals"][number]) => {
    if (!(await say({ what: "undone" }))) return;
    const answer =
      step.kind === "decide"
        ? { answer: one.value === "yes" }
        : { value: one.value, unit: one.unit, tool: record.tool };
    await say({ what: "done", acknowledged: true, ...answer });
  };
  const red = last ? "" : record.red;
  const mark = { open: "○", done: red ? "✕" : "✓", skipped: "–", stopped: "✕" }[state];
  const settled = state !== "open";
  const value = last ? `${last.value} ${last.unit}`.trim() : `${record.value} ${record.unit}`.trim();
  return (
    <Box
      as="li"
      bg="bg.panel"
      borderRadius="md"
      px={4}
      py={3}
      borderLeftWidth="4px"
      borderColor={state === "stopped" || red ? "bad.fg" : state === "done" ? "good.fg" : "border"}
      data-testid={`step-${step.code}`}
      data-red={red ? true : undefined}
      data-state={state}
    >
      <Text fontSize="lg">
        <b>
          {mark} {number}.
        </b>{" "}
        {textNow(step, sheet, waitingValues)}
      </Text>
      {step.caution && (
        <Text borderLeftWidth="4px" borderColor="bad.fg" bg="bg.subtle" px={2} py={1} mt={2} fontSize="sm">
          ! {step.caution}
        </Text>
      )}
      {settled && (
        <Text mt={1} color="fg.muted" data-testid="outcome">
          {[
            value,
            last ? last.tool : record.tool,
            last ? last.by : record.by,
            record.checked_by && t("checked by {0}", record.checked_by),
            last ? last.reason : record.reason,
            last && t("not sent yet"),
          ]
            .filter(Boolean)
            .join(", ")}
        </Text>
      )}
      {state === "stopped" && (
        <Text role="alert" color="bad.fg" fontWeight="600" mt={1}>
          {t("Stop. {0}", step.stop)}
        </Text>
      )}
      {red && (
        <Box role="alert" mt={1} data-testid="red">
          <Text color="bad.fg" fontWeight="600">
            ✕ {red}
          </Text>
          {!locked && !record.reason && <Kept keep={(reason) => say(again_(record, step, reason))} />}
        </Box>
      )}
      {!last && record.rivals.length > 0 && (
        <Box role="alert" mt={1} data-testid="rivals">
          <Text color="bad.fg" fontWeight="600">
            {t("Entered differently on several devices. Which one is right?")}
          </Text>
          <Flex gap={2} wrap="wrap" mt={1}>
            {record.rivals.map((one) => {
              const shown = `${one.value} ${one.unit}`.trim();
              return (
                <Small key={`${shown} ${one.by}`} onClick={() => choose(one)} disabled={locked}>
                  {t("Keep {0} ({1})", shown, one.by)}
                </Small>
              );
            })}
          </Flex>
        </Box>
      )}
      {refused.map((item) => (
        <Flex key={item.order} gap={2} align="center" wrap="wrap" mt={1} role="alert">
          <Text color="bad.fg" fontWeight="600">
            {item.refused}
          </Text>
          <Small onClick={() => again(item)}>{t("Send again")}</Small>
          {"entry" in item && (
            <Small onClick={() => keep.mutate(item, { onSuccess: () => drop(item) })}>{t("Keep as a note")}</Small>
          )}
          <Small onClick={() => drop(item)}>{t("Discard")}</Small>
        </Flex>
      ))}
      {notApplied && (
        <Text role="alert" color="signal.fg" mt={1}>
          ! {notApplied.message} {notApplied.remedy}
        </Text>
      )}
      {!locked && (!settled || state === "stopped") && <Doing sheet={sheet} step={step} say={say} />}
      {!locked && step.kind === "photo" && (
        <Photo
          send={async (file) => {
            if (await add({ photo: await smaller(file), step: step.code, key: newKey() })) await say({ what: "done" });
          }}
        />
      )}
      <Flex gap={2} wrap="wrap" mt={photos.length > 0 ? 2 : 0}>
        {photos.map((photo) => (
          <Image
            key={photo.id}
            src={`/api/sheets/${sheet.id}/photos/${photo.id}`}
            alt={t("Photo at step {0}", number)}
            maxH="160px"
            borderRadius="md"
          />
        ))}
      </Flex>
      {!locked && settled && (
        <Flex gap={2} mt={2} wrap="wrap" align="end">
          {state === "done" && step.second && !record.checked_by && !last && <Check say={say} />}
          <Small variant="ghost" onClick={() => say({ what: "undone" })}>
            {t("Undo")}
          </Small>
        </Flex>
      )}
    </Box>
  );
}

/** The same outcome once more, with the reason why it is kept. */
function again_(record: JobSheet["records"][number], step: SheetStep, reason: string) {
  const outcome =
    step.kind === "decide"
      ? { answer: record.value === "yes" }
      : { value: record.value, unit: record.unit, tool: record.tool };
  return { what: "done" as const, acknowledged: true, reason, ...outcome };
}

/** A value that is not as expected stays only with a reason. */
function Kept({ keep }: { keep: (reason: string) => void }) {
  const [reason, set] = useState("");
  return (
    <Flex gap={2} align="end" wrap="wrap" mt={1}>
      <Box flex="1" minW="180px">
        <TextField label={t("Why is it kept?")} value={reason} change={set} testId="kept-because" />
      </Box>
      <Small onClick={() => keep(reason)} disabled={reason.trim().length < 3}>
        {t("Keep it")}
      </Small>
    </Flex>
  );
}

/** What an entry that is not sent yet will come to. */
function seen(entry: Entry, step: SheetStep): JobSheet["records"][number]["state"] {
  if (entry.what === "skipped") return "skipped";
  if (entry.what !== "done") return "open";
  return entry.answer === false && step.stop !== "" ? "stopped" : "done";
}

type Say = (some: Partial<Entry> & Pick<Entry, "what">) => Promise<boolean>;

/** The buttons and fields with which a step is done or skipped. */
function Doing({ sheet, step, say }: { sheet: JobSheet; step: SheetStep; say: Say }) {
  const [acknowledged, acknowledge] = useState(false);
  const known = step.torque;
  const [value, setValue] = useHeld(`value ${sheet.id} ${step.code}`, known?.value ?? "");
  const [unit, setUnit] = useHeld(`unit ${sheet.id} ${step.code}`, known?.unit ?? "");
  const [tool, setTool] = useHeld(`tool ${sheet.id} ${step.code}`, known?.tool ?? "");
  const [skipping, skip] = useState(false);
  const [reason, setReason] = useHeld(`reason ${sheet.id} ${step.code}`, "");
  const needsReading = step.safety && step.caution !== "";
  const ready = !needsReading || acknowledged;
  return (
    <Stack gap={2} mt={2}>
      {needsReading && (
        <Tick checked={acknowledged} toggle={() => acknowledge(!acknowledged)}>
          {t("I have read the caution and keep to it.")}
        </Tick>
      )}
      {(step.kind === "measure" || step.kind === "torque") && (
        <Flex gap={3} align="end" wrap="wrap">
          <Box w="160px">
            <TextField
              label={step.kind === "torque" ? t("Torque from the manual") : t("Value")}
              unit={step.unit}
              value={value}
              change={setValue}
              testId={`value-${step.code}`}
            />
          </Box>
          {step.kind === "torque" && (
            <>
              <Box w="120px">
                <ChoiceField
                  label={t("Unit")}
                  value={unit}
                  change={setUnit}
                  options={[{ code: "", label: "…" }, ...sheet.torque_units.map((code) => ({ code, label: code }))]}
                  testId={`unit-${step.code}`}
                />
              </Box>
              <Box flex="1" minW="160px" maxW="260px">
                <TextField label={t("Tool")} value={tool} change={setTool} testId={`tool-${step.code}`} />
              </Box>
            </>
          )}
        </Flex>
      )}
      {known && (
        <Text fontSize="sm" color="fg.muted" data-testid={`known-${step.code}`}>
          {t("{0} {1}, {2}", known.value, known.unit, known.source)}
        </Text>
      )}
      {step.kind === "timer" && <Timer seconds={step.seconds} />}
      {!skipping ? (
        <Flex gap={2} wrap="wrap">
          {step.kind === "decide" ? (
            <>
              <Big disabled={!ready} onClick={() => say({ what: "done", answer: true, acknowledged })}>
                {t("Yes")}
              </Big>
              <Big disabled={!ready} onClick={() => say({ what: "done", answer: false, acknowledged })}>
                {t("No")}
              </Big>
            </>
          ) : (
            step.kind !== "photo" && (
              <Big
                disabled={!ready || ((step.kind === "measure" || step.kind === "torque") && value.trim() === "")}
                onClick={() => say({ what: "done", value, unit, tool, acknowledged })}
              >
                {t("Done")}
              </Big>
            )
          )}
          <Small variant="ghost" onClick={() => (step.safety ? skip(true) : say({ what: "skipped" }))}>
            {t("Skip")}
          </Small>
        </Flex>
      ) : (
        <Flex gap={2} align="end" wrap="wrap">
          <Box flex="1" minW="180px">
            <TextField label={t("Why is it skipped?")} value={reason} change={setReason} />
          </Box>
          <Small onClick={() => say({ what: "skipped", reason })} disabled={reason.trim() === ""}>
            {t("Skip")}
          </Small>
          <Small variant="ghost" onClick={() => skip(false)}>
            {t("Cancel")}
          </Small>
        </Flex>
      )}
    </Stack>
  );
}

function Big({ children, disabled, onClick }: { children: string; disabled: boolean; onClick: () => void }) {
  return (
    <Button colorPalette="signal" minH="48px" minW="96px" disabled={disabled} onClick={onClick}>
      {children}
    </Button>
  );
}

/** A second person looks at it. */
function Check({ say }: { say: Say }) {
  const [who, set] = useState("");
  return (
    <>
      <Box w="180px">
        <TextField label={t("Checked by (another role)")} value={who} change={set} testId="checked-by" />
      </Box>
      <Small onClick={() => say({ what: "checked", by: who })} disabled={who.trim() === ""}>
        {t("Checked")}
      </Small>
    </>
  );
}

/** Seconds that run down. */
function Timer({ seconds }: { seconds: number }) {
  const [ends, start] = useState<number | null>(null);
  const [now, tick] = useState(0);
  useEffect(() => {
    if (ends === null) return;
    const timer = window.setInterval(() => tick(Date.now()), 250);
    return () => window.clearInterval(timer);
  }, [ends]);
  const left = ends === null ? seconds : Math.max((ends - (now || Date.now())) / 1000, 0);
  return (
    <Flex gap={3} align="center">
      <Text fontSize="2xl" fontFamily="mono" role="timer">
        {t("{0} s", fixed(Math.ceil(left), 0))}
      </Text>
      <Small onClick={() => start(Date.now() + seconds * 1000)}>{ends === null ? t("Start") : t("Start again")}</Small>
    </Flex>
  );
}

/** The camera of a phone, or a file. */
function Photo({ send }: { send: (file: Blob) => Promise<void> }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <Box mt={2}>
      <Small onClick={() => input.current?.click()}>{t("Take a photo")}</Small>
      <input
        ref={input}
        type="file"
        accept="image/*"
        capture="environment"
        aria-label={t("Photo")}
        style={{ display: "none" }}
        data-testid="photo-file"
        onChange={async (event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) await send(file);
        }}
      />
    </Box>
  );
}
