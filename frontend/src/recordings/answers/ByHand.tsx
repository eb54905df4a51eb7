import { Flex, Stack, Text } from "@chakra-ui/react";
import { ChoiceField, TextField } from "../../ui/fields";
import { fixed } from "../../ui/format";
import { Line, Small, without } from "../../ui/Small";
import { UnitField } from "../../ui/UnitField";
import { useUnits } from "../../ui/units";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import { between } from "../between";
import { type RecordingOut, useDeriving, usePlot } from "../queries";
import { refusalOf } from "../sending";
import { numberIn, speedOptions } from "./shared";

type Row = { at: string; shown: string };
const EMPTY: Row = { at: "", shown: "" };
const MOST = 60;

/** What the display showed at some moments, typed in: it becomes the shown speed of the recording. */
export function ByHand({ recording }: { recording: RecordingOut }) {
  const { show, own, typed, inOwn } = useUnits();
  const { add, remove } = useDeriving(recording.id);
  const [held, hold, drop] = useHeld(`by hand ${recording.id}`, {
    true: recording.usual?.true_channel ?? "",
    rows: [
      ...recording.noted.map((item) => ({
        at: String(item.at_s),
        shown: typed(String(Number((item.shown_kmh / own("km/h")[1]).toPrecision(7))), "km/h"),
      })),
      ...(recording.noted.length > 0 ? [] : [EMPTY, EMPTY, EMPTY]),
    ] as Row[],
  });
  const curve = usePlot(recording.id, held.true ? [held.true] : [], null, JSON.stringify(recording.channels)).data
    ?.curves[0];
  const { rows } = held;
  const change = (next: Row[]) => hold({ ...held, rows: next.length > 0 ? next : [EMPTY] });
  const put = (place: number, some: Partial<Row>) =>
    change(rows.map((row, at) => (at === place ? { ...row, ...some } : row)));
  /** What was typed, in this person's unit or with km/h behind it. */
  const kmhOf = (shown: string) => {
    const plain = /^(.*?)\s*km\/h\s*$/.exec(shown)?.[1];
    const inUnit = numberIn(plain ?? inOwn(shown, "km/h"));
    return inUnit === null ? null : inUnit * (plain === undefined ? own("km/h")[1] : 1);
  };
  const noted = rows.flatMap(({ at, shown }) => {
    const [at_s, shown_kmh] = [numberIn(at), kmhOf(shown)];
    return at_s === null || shown_kmh === null ? [] : [{ at_s, shown_kmh }];
  });
  const half = rows.findIndex(
    (row) => (row.at || row.shown) && (numberIn(row.at) === null || kmhOf(row.shown) === null),
  );
  const trueAt = (at: string) => {
    const at_s = numberIn(at);
    if (at_s === null || !curve) return "";
    const there = curve.time_s.flatMap((time, place) =>
      curve.values[place] == null ? [] : [[time, curve.values[place]] as const],
    );
    const kmh = between(
      there.map(([time]) => time),
      there.map(([, value]) => value as number),
      at_s,
    );
    return t("true {0}", show(kmh, "km/h", 0.5).join(" "));
  };
  const save = async () => {
    await add.mutateAsync({ kind: "noted", of: held.true, against: "", installation: null, noted });
    drop();
  };
  return (
    <Stack gap={2} mt={2} data-testid="by-hand">
      <Text>
        {t(
          "For a recording without the shown speed: enter what the display showed at moments of steady speed, as filmed or called out. Each counts for three seconds before and after.",
        )}
      </Text>
      <ChoiceField
        label={t("True speed")}
        value={held.true}
        change={(name) => hold({ ...held, true: name })}
        options={speedOptions(recording)}
        testId="by-hand-true"
      />
      {rows.map((row, place) => (
        <Line
          // biome-ignore lint/suspicious/noArrayIndexKey: rows have no identity but their place
          key={place}
          what={t("moment {0}", place + 1)}
          remove={() => change(without(rows, place))}
        >
          <TextField
            label={t("Time from the beginning")}
            unit="s"
            numeric
            hint={trueAt(row.at)}
            value={row.at}
            change={(at) => put(place, { at })}
            testId={`by-hand-at-${place}`}
          />
          <UnitField
            label={t("Shown speed")}
            unit="km/h"
            value={row.shown}
            change={(shown) => put(place, { shown })}
            testId={`by-hand-shown-${place}`}
          />
        </Line>
      ))}
      <Flex gap={2} wrap="wrap">
        {rows.length < MOST && <Small onClick={() => change([...rows, EMPTY])}>{t("Another moment")}</Small>}
        <Small
          variant="solid"
          colorPalette="signal"
          disabled={noted.length === 0 || half >= 0 || add.isPending || held.true === ""}
          onClick={() => void save().catch(() => undefined)}
        >
          {add.isPending ? t("Saving …") : t("Save the shown speeds")}
        </Small>
        {recording.noted.length > 0 && (
          <Small onClick={() => remove.mutate("shown, by hand")} disabled={remove.isPending}>
            {t("Remove all of them")}
          </Small>
        )}
      </Flex>
      {half >= 0 && noted.length > 0 && <Text>{t("Moment {0} needs a time in seconds and a speed.", half + 1)}</Text>}
      {add.error && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {refusalOf(add.error)}
        </Text>
      )}
      {recording.noted.length > 0 && !add.isPending && (
        <Text data-testid="by-hand-saved">
          {t(
            "Saved: {0} shown speeds, the last at {1} s.",
            recording.noted.length,
            fixed(recording.noted.at(-1)?.at_s ?? 0, 1),
          )}
        </Text>
      )}
    </Stack>
  );
}
