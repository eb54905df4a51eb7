import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { Select } from "../ui/fields";
import { fixed } from "../ui/format";
import { Small } from "../ui/Small";
import { useUnits } from "../ui/units";
import { useHeld } from "../ui/useHeld";
import { t } from "../ui/words";
import { type ReadAs, type Reading, type RecordingOut, usePictures } from "./queries";

type Channel = RecordingOut["channels"][number];
type Role = NonNullable<Channel["role"]>;
type Draft = { columns: Record<string, { meaning?: string; unit?: string }>; roles: Record<string, Role> };
const NOTHING: Draft = { columns: {}, roles: {} };
const WIDE = "90px minmax(130px, 1.4fr) minmax(170px, 1.3fr) minmax(90px, 0.6fr) minmax(100px, 1fr) 70px";

const SPEEDS: { code: Role; label: string }[] = [
  { code: "true", label: t("True speed") },
  { code: "shown", label: t("Speed that the display shows") },
  { code: "driven", label: t("Speed of a driven wheel") },
  { code: "free", label: t("Speed of a free wheel") },
  { code: "other", label: t("Other speed") },
];
const MEANINGS = [
  { code: "time", label: t("Time") },
  ...SPEEDS.map(({ code, label }) => ({ code: `speed ${code}`, label })),
  { code: "distance", label: t("Distance") },
  { code: "frequency", label: t("Frequency, Hz") },
  { code: "engine", label: t("Engine speed") },
  { code: "course", label: t("Course over ground") },
  { code: "heading", label: t("Heading") },
  { code: "accuracy", label: t("Accuracy of the fix") },
  { code: "latitude", label: t("Latitude") },
  { code: "longitude", label: t("Longitude") },
  { code: "altitude", label: t("Altitude") },
  { code: "pulses", label: t("Pulses") },
  { code: "other", label: t("Other channel") },
  { code: "ignored", label: t("Not used") },
];
const LABELS = new Map(MEANINGS.map(({ code, label }) => [code, label]));

type Row = {
  name: string;
  place: number | null;
  first: readonly string[];
  meaning: string;
  unit: string;
  unitGuessed: boolean;
  channel: Channel | undefined;
};

/** The columns of a table with their channels, and the channels that no column is. */
function rowsOf({ columns, recording, read_as }: Reading): Row[] {
  const seen = new Map<string, number>();
  const taken = new Set<Channel>();
  const ofColumns = columns.map((column, place) => {
    const used = column.meaning !== "ignored" && column.meaning !== "time";
    const before = seen.get(column.name) ?? 0;
    if (used) seen.set(column.name, before + 1);
    const name = before === 0 ? column.name : `${column.name} ${before + 1}`;
    const channel = used ? recording.channels.find((item) => item.name === name && !item.derived) : undefined;
    if (channel) taken.add(channel);
    return {
      name: used ? name : column.name,
      place,
      first: column.first,
      meaning: column.meaning,
      unit: column.unit,
      unitGuessed: column.unit_guessed && read_as.columns == null,
      channel,
    };
  });
  const others = recording.channels.filter((channel) => !taken.has(channel));
  return [
    ...ofColumns,
    ...others.map((channel) => ({
      name: channel.name,
      place: null,
      first: [],
      meaning: channel.quantity as string,
      unit: channel.unit,
      unitGuessed: false,
      channel,
    })),
  ];
}

/** What each channel is, its unit, where it is from and what is lacking of it; all is corrected with one save. */
export function ChannelTable({ reading, read }: { reading: Reading; read: (some: Partial<ReadAs>) => unknown }) {
  const { recording, columns, units, read_as } = reading;
  const { own, show } = useUnits();
  const [draft, hold, drop] = useHeld<Draft>(`channels ${recording.id}`, NOTHING);
  const rows = rowsOf(reading);
  const pictures = usePictures(recording);
  const changed = Object.keys(draft.columns).length + Object.keys(draft.roles).length > 0;
  const guesses = rows.filter((row) => row.unitGuessed || (row.channel?.role && row.channel.guessed)).length;
  const failed = recording.state === "failed";
  const roleOf = (row: Row): Role => draft.roles[row.name] ?? row.channel?.role ?? "other";
  const columnOf = (row: Row) => {
    const known = row.place === null ? {} : (draft.columns[row.place] ?? {});
    return { meaning: known.meaning ?? row.meaning, unit: known.unit ?? row.unit };
  };
  const choose = (row: Row, code: string) => {
    const [meaning = "", role] = code.split(" ");
    const roles = role ? { ...draft.roles, [row.name]: role as Role } : draft.roles;
    const now = columnOf(row);
    const known = Object.keys(units[meaning] ?? {});
    const unit = known.includes(now.unit) ? now.unit : (known[0] ?? now.unit);
    const asked =
      row.place === null || meaning === now.meaning
        ? draft.columns
        : { ...draft.columns, [row.place]: { meaning, unit } };
    hold({ columns: asked, roles });
  };
  const setUnit = (row: Row, unit: string) => {
    if (row.place !== null) hold({ ...draft, columns: { ...draft.columns, [row.place]: { ...columnOf(row), unit } } });
  };
  /** What it comes to as it stands in the table now, before it is saved. */
  const comesTo = (row: Row) => {
    const now = columnOf(row);
    if (now.meaning !== "speed" && now.meaning !== "engine") return null;
    const [as_now, as_read] = [now, row].map(({ meaning, unit }) => units[meaning]?.[unit] ?? 1) as [number, number];
    const { least, greatest } = row.channel ?? { least: null, greatest: null };
    const found =
      row.channel && row.meaning === now.meaning && least !== null && greatest !== null
        ? [(least * as_now) / as_read, (greatest * as_now) / as_read]
        : row.first.map((text) => Number(text.replace(",", ".")) * as_now).filter(Number.isFinite);
    if (found.length === 0) return null;
    const ends = [Math.min(...found), Math.max(...found)].map((value) =>
      now.meaning === "speed" ? show(value, "km/h", 0.5) : [fixed(value, 0), "rpm"],
    ) as [string, string][];
    return t("{0} to {1} {2}", ends[0]?.[0], ends[1]?.[0], ends[1]?.[1]);
  };
  const save = () => {
    const speeds = rows.filter((row) => columnOf(row).meaning === "speed");
    const said = speeds.filter((row) => draft.roles[row.name] || row.channel?.role);
    const asColumns = columns.map((_, place) => columnOf(rows[place] as Row));
    const rewritten =
      Object.keys(draft.columns).length > 0 || rows.some((row) => row.unitGuessed) || read_as.columns != null;
    read({
      ...(columns.length > 0 && rewritten ? { columns: asColumns as ReadAs["columns"] } : {}),
      roles: { ...read_as.roles, ...Object.fromEntries(said.map((row) => [row.name, roleOf(row)])) },
    });
    hold(NOTHING);
    drop();
  };
  return (
    <Stack gap={1} pt={1} data-testid="channels">
      <Grid templateColumns={WIDE} gap={3} display={{ base: "none", lg: "grid" }} color="fg.muted" fontSize="sm">
        <Text>{t("Picture")}</Text>
        <Text>{t("Name")}</Text>
        <Text>{t("What it is")}</Text>
        <Text>{t("Unit")}</Text>
        <Text>{t("From")}</Text>
        <Text>{t("Gaps")}</Text>
      </Grid>
      {rows.map((row) => {
        const now = columnOf(row);
        const speed = now.meaning === "speed";
        const options =
          row.place !== null
            ? MEANINGS.filter(({ code }) => code !== "pulses")
            : MEANINGS.filter(({ code }) => code.startsWith("speed "));
        return (
          <Grid
            key={row.place ?? row.name}
            templateColumns={{ base: "90px 1fr 1fr", lg: WIDE }}
            gap={{ base: 1, lg: 3 }}
            py={1}
            borderTopWidth="1px"
            alignItems="center"
          >
            <Spark values={row.channel && pictures.get(row.channel.name)} />
            <Box minW={0} gridColumn={{ base: "2 / -1", lg: "auto" }}>
              <Text fontWeight="600" overflowWrap="anywhere">
                {row.name}
              </Text>
              {row.first.length > 0 && (
                <Text color="fg.muted" fontFamily="mono" fontSize="sm" overflowWrap="anywhere">
                  {row.first.slice(0, 3).join("  ")}
                </Text>
              )}
            </Box>
            <Box minW={0} gridColumn={{ base: "1 / 3", lg: "auto" }} alignSelf={{ base: "start", lg: "center" }}>
              {row.place !== null || speed ? (
                <Select
                  name={t("What {0} is", row.name)}
                  value={speed ? `speed ${roleOf(row)}` : now.meaning}
                  change={(code) => choose(row, code)}
                  options={options}
                  testId={`channels.${row.place ?? row.name}.meaning`}
                />
              ) : (
                <Text>{LABELS.get(row.meaning)}</Text>
              )}
              {row.channel?.role && row.channel.guessed && !draft.roles[row.name] && <Guess />}
            </Box>
            <Box minW={0} alignSelf={{ base: "start", lg: "center" }}>
              {row.place !== null && units[now.meaning] && !(now.meaning === "time" && /:/.test(row.first[0] ?? "")) ? (
                <Select
                  name={t("Unit of {0}", row.name)}
                  value={now.unit}
                  change={(unit) => setUnit(row, unit)}
                  options={Object.keys(units[now.meaning] ?? {}).map((unit) => ({ code: unit, label: unit }))}
                  testId={`channels.${row.place}.unit`}
                />
              ) : (
                <Text>{speed ? own("km/h")[0] : row.unit}</Text>
              )}
              {comesTo(row) && (
                <Text fontSize="sm" color="fg.muted" data-testid={`channels.${row.place ?? row.name}.comes-to`}>
                  {comesTo(row)}
                </Text>
              )}
              {row.unitGuessed && !draft.columns[row.place ?? ""]?.unit && <Guess />}
            </Box>
            <Text color="fg.muted" fontSize="sm" overflowWrap="anywhere" display={{ base: "none", lg: "block" }}>
              {row.channel?.derived ? t("computed") : row.channel?.source}
            </Text>
            <Text fontSize="sm" gridColumn={{ base: "1 / -1", lg: "auto" }}>
              {row.channel && row.channel.samples > 0 && (
                <>
                  <Box as="span" display={{ lg: "none" }} color="fg.muted">
                    {t("Gaps")}{" "}
                  </Box>
                  {t("{0} %", fixed(100 * row.channel.gaps, row.channel.gaps > 0 && row.channel.gaps < 0.1 ? 1 : 0))}
                </>
              )}
            </Text>
          </Grid>
        );
      })}
      <Flex gap={2} wrap="wrap" align="center" pt={2}>
        {(changed || guesses > 0 || failed) && (
          <Small variant="solid" colorPalette="signal" onClick={save}>
            {changed ? t("Save and read again") : failed ? t("Read again") : t("All of this is right")}
          </Small>
        )}
        {changed && <Small onClick={() => hold(NOTHING)}>{t("Discard the changes")}</Small>}
        {guesses > 0 && !changed && (
          <Text color="fg.muted" fontSize="sm">
            {t("What is marked as a guess was taken from the names in the file.")}
          </Text>
        )}
      </Flex>
    </Stack>
  );
}

function Guess() {
  return (
    <Text fontSize="sm" color="signal.fg">
      {t("a guess")}
    </Text>
  );
}

const [WIDTH, HEIGHT] = [90, 28];

/** A channel over the whole recording, as small as a word. */
function Spark({ values }: { values: (number | null)[] | undefined }) {
  const there = (values ?? []).filter((value): value is number => value !== null);
  const [least, greatest] = [Math.min(...there), Math.max(...there)];
  const last = Math.max((values?.length ?? 0) - 1, 1);
  let path = "";
  let pen = "M";
  values?.forEach((value, place) => {
    if (value === null) pen = "M";
    else {
      const y = greatest > least ? (1 - (value - least) / (greatest - least)) * (HEIGHT - 4) + 2 : HEIGHT / 2;
      path += `${pen}${((place / last) * WIDTH).toFixed(1)} ${y.toFixed(1)}`;
      pen = "L";
    }
  });
  return (
    <svg width={WIDTH} height={HEIGHT} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden="true">
      <path d={path} fill="none" stroke="currentColor" strokeWidth="1.2" />
    </svg>
  );
}
