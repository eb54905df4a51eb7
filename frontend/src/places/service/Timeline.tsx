import { Box, chakra, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { numberIn } from "../../recordings/answers/shared";
import { refusalOf } from "../../recordings/sending";
import { ChoiceField, TextField } from "../../ui/fields";
import { today, when } from "../../ui/format";
import { Pending } from "../../ui/Pending";
import { Remove } from "../../ui/Remove";
import { Small } from "../../ui/Small";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import { type Kind, useServiceChanges, useTimeline } from "./queries";

const Go = chakra(Link);
const NOTHING = () => ({ kind: "note" as Schemas["NoteIn"]["kind"], text: "", value: "", km: "", on: today() });
const KINDS: [Kind | "", string][] = [
  ["", t("Everything")],
  ["revision", t("Revisions")],
  ["test", t("Tests")],
  ["recording", t("Recordings")],
  ["sheet", t("Job sheets")],
  ["photo", t("Photos")],
  ["fault", t("Faults")],
  ["note", t("Notes and readings")],
  ["part", t("Parts")],
  ["task", t("Done")],
];
const NOTES: { code: Schemas["NoteIn"]["kind"]; label: string; unit: string }[] = [
  { code: "note", label: t("Note"), unit: "" },
  { code: "odometer", label: t("Odometer"), unit: "km" },
  { code: "hours", label: t("Hours"), unit: "h" },
  { code: "tread", label: t("Tread depth"), unit: "mm" },
];

/** All that happened to a vehicle, the latest first: searched, filtered, added to, taken out. */
export function Timeline({ vehicle }: { vehicle: number }) {
  const [search, setSearch] = useState("");
  const [kind, setKind] = useState<Kind | "">("");
  const found = useTimeline(vehicle, search, kind || null);
  const { removeNote, bringIn } = useServiceChanges(vehicle);
  const input = useRef<HTMLInputElement>(null);
  return (
    <Box data-testid="timeline">
      <Heading as="h2" size="lg" mb={2}>
        {t("Timeline")}
      </Heading>
      <NewNote vehicle={vehicle} />
      <Grid templateColumns={{ base: "1fr", md: "2fr 1fr" }} gap={3} my={3}>
        <TextField label={t("Search")} value={search} change={setSearch} testId="timeline-search" />
        <ChoiceField
          label={t("Show")}
          value={kind}
          change={(code) => setKind(code as Kind | "")}
          options={KINDS.map(([code, label]) => ({ code, label }))}
          testId="timeline-kind"
        />
      </Grid>
      <Stack gap={0} as="ol" listStyleType="none">
        {!found.data && <Pending asked={found} text={t("Opening …")} />}
        {found.data?.items.length === 0 && <Text color="fg.muted">{t("Nothing found.")}</Text>}
        {found.data?.items.map((item) => (
          <Flex
            as="li"
            key={`${item.kind} ${item.at} ${item.text} ${item.note ?? item.link}`}
            gap={3}
            borderLeftWidth="3px"
            borderColor="border"
            pl={3}
            py={2}
            align="baseline"
            wrap="wrap"
          >
            <Text fontSize="sm" color="fg.muted" w="150px" flexShrink={0}>
              {when(item.at)}
            </Text>
            <Box flex="1" minW="200px">
              {item.link ? (
                <Go to={item.link} textDecoration="underline" color="signal.fg" display="inline-block" py={2}>
                  {item.text}
                </Go>
              ) : (
                <Text as="span">{item.text}</Text>
              )}
              <Text fontSize="sm" color="fg.muted">
                {[item.name, item.wheel, item.by].filter(Boolean).join(", ")}
              </Text>
            </Box>
            {item.note !== null && (
              <Remove
                what={item.text}
                act={() => item.note !== null && removeNote.mutate(item.note)}
                busy={removeNote.isPending}
              />
            )}
          </Flex>
        ))}
      </Stack>
      {found.data?.more && <Text color="fg.muted">{t("There is more: search for it.")}</Text>}
      <Flex gap={2} wrap="wrap" mt={3}>
        <Small asChild>
          <a href={`/api/vehicles/${vehicle}/timeline/csv`}>{t("Timeline as CSV")}</a>
        </Small>
        <Small asChild>
          <a href={`/api/vehicles/${vehicle}/timeline/json`}>{t("Timeline as JSON")}</a>
        </Small>
        <Small onClick={() => input.current?.click()}>{t("Import a timeline")}</Small>
        <input
          ref={input}
          type="file"
          accept="application/json,.json,text/csv,.csv"
          aria-label={t("Timeline file")}
          style={{ display: "none" }}
          data-testid="timeline-file"
          onChange={async (event) => {
            const file = event.target.files?.[0];
            event.target.value = "";
            if (!file) return;
            bringIn.mutate(await file.text());
          }}
        />
        {bringIn.data && (
          <Text>{t("{0} entries imported, {1} were there.", bringIn.data.added, bringIn.data.known)}</Text>
        )}
        {bringIn.error && (
          <Text role="alert" color="bad.fg" fontWeight="600">
            {refusalOf(bringIn.error)}
          </Text>
        )}
      </Flex>
    </Box>
  );
}

/** Something to be written down. */
function NewNote({ vehicle }: { vehicle: number }) {
  const { addNote } = useServiceChanges(vehicle);
  const [held, set] = useHeld(`note ${vehicle}`, NOTHING);
  const change = (some: Partial<typeof held>) => set({ ...held, ...some });
  const kind = NOTES.find((item) => item.code === held.kind);
  return (
    <Box bg="bg.panel" borderRadius="md" p={3} data-testid="new-note">
      <Grid templateColumns="repeat(auto-fit, minmax(140px, 1fr))" gap={3}>
        <ChoiceField
          label={t("Write down")}
          value={held.kind}
          change={(code) => change({ kind: code as typeof held.kind })}
          options={NOTES}
          testId="note-kind"
        />
        {kind?.unit && (
          <TextField
            label={t("Reading")}
            unit={kind.unit}
            numeric
            value={held.value}
            change={(value) => change({ value })}
            testId="note-value"
          />
        )}
        {held.kind === "tread" && (
          <TextField
            label={t("At odometer reading")}
            unit="km"
            numeric
            value={held.km}
            change={(km) => change({ km })}
          />
        )}
        <TextField label={t("Text")} value={held.text} change={(text) => change({ text })} testId="note-text" />
        <TextField label={t("On")} type="date" value={held.on} change={(on) => change({ on })} />
      </Grid>
      <Flex mt={2} gap={3} align="center" wrap="wrap">
        <Small
          disabled={addNote.isPending}
          onClick={() =>
            addNote.mutate(
              {
                kind: held.kind,
                text: held.text,
                value: kind?.unit ? numberIn(held.value) : null,
                km: held.kind === "tread" ? numberIn(held.km) : null,
                on: held.on,
                installation_id: null,
              },
              { onSuccess: () => set({ ...held, text: "", value: "", km: "" }) },
            )
          }
        >
          {t("Add to the timeline")}
        </Small>
        {addNote.error && (
          <Text role="alert" color="bad.fg" fontWeight="600">
            {refusalOf(addNote.error)}
          </Text>
        )}
      </Flex>
    </Box>
  );
}
