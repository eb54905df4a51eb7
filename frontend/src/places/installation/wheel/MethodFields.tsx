import { Flex, Text } from "@chakra-ui/react";
import { memo, useState } from "react";
import { getIn } from "../../../editing/paths";
import { useDialog } from "../../../ui/address";
import { TextField } from "../../../ui/fields";
import { Line, Small, without } from "../../../ui/Small";
import { useUnits } from "../../../ui/units";
import { t } from "../../../ui/words";
import { useEditing } from "../context";
import { Entries, Entry } from "../fields";
import { fieldAt } from "../schema";
import { ChartSheet } from "./ChartSheet";
import { SizeSheet } from "./SizeSheet";

/** The entries of one method for the circumference. */
export const MethodFields = memo(function MethodFields({ method }: { method: string }) {
  const { document } = useEditing();
  const of = `wheel.${method}`;
  switch (method) {
    case "marking":
      return <Marking />;
    case "chart":
      return <Chart />;
    case "taped_diameter":
      return (
        <>
          <Entries of={of} names={["diameter_mm", "reading_mm"]} />
          <Entry path="wheel.construction" />
          <Repeats path={`${of}.repeats_mm`} of={`${of}.diameter_mm`} />
        </>
      );
    case "taped_circumference":
      return (
        <>
          <Entries of={of} names={["circumference_mm", "reading_mm"]} />
          <Entry path="wheel.construction" />
          <Repeats path={`${of}.repeats_mm`} of={`${of}.circumference_mm`} />
        </>
      );
    case "axle_height":
      return <Entries of={of} names={["axle_height_mm", "unloaded_diameter_mm", "reading_mm"]} />;
    case "roll_out":
      return (
        <>
          <Entries of={of} names={["turns", "distance_mm", "tape_mm", "mark_mm"]} />
          <Repeats path={`${of}.repeats_mm`} of={`${of}.distance_mm`} />
        </>
      );
    case "speed_derived":
      return (
        <>
          <Entry path={`${of}.basis`} />
          <Entries of={of} names={["set_circumference_mm", "shown_kmh", "true_kmh", "shown_km", "true_km", "time_s"]} />
        </>
      );
    case "paddle":
      return <Entries of={of} names={["pulses_per_nautical_mile", "calibration_pct"]} />;
    default:
      return (
        <Entries of={of} names={[]}>
          <Entry
            path={`${of}.circumference_mm`}
            label={document.vehicle_kind === "boat" ? t("Run per turn of the paddle") : undefined}
          />
          <Entry path={`${of}.source`} />
        </Entries>
      );
  }
});

function Marking() {
  const { evaluated, catalogue, set } = useEditing();
  const [dialog, open] = useDialog();
  const understood = evaluated.document.wheel.method === "marking" && evaluated.result.stages[0]?.why[0]?.source;
  return (
    <>
      <Entry path="wheel.marking.text" meaning={understood || undefined} hint={catalogue.accepted_markings} />
      <Flex gap={2} align="flex-end">
        <Entry path="wheel.marking.factor" />
        <Small onClick={() => open("size")}>{t("Find the size")}</Small>
      </Flex>
      <SizeSheet open={dialog === "size"} close={() => open(null)} take={(text) => set("wheel.marking.text", text)} />
    </>
  );
}

function Chart() {
  const { document, set } = useEditing();
  const [dialog, open] = useDialog();
  return (
    <>
      <Entries of="wheel.chart" names={["label", "circumference_mm"]} />
      <Small alignSelf="flex-start" onClick={() => open("cycle-chart")}>
        {t("Open the chart")}
      </Small>
      <ChartSheet
        open={dialog === "cycle-chart"}
        close={() => open(null)}
        take={(row) =>
          set("wheel.chart", { ...document.wheel.chart, label: row.label, circumference_mm: row.circumference_mm })
        }
      />
    </>
  );
}

/** The same reading again: a list that grows by one line at a time, with the running mean beside it. */
function Repeats({ path, of }: { path: string; of: string }) {
  const { document, evaluated, catalogue, set } = useEditing();
  const { own, show, typed } = useUnits();
  const label = fieldAt(catalogue, of)?.title ?? "";
  const most = fieldAt(catalogue, path)?.most ?? 0;
  const [next, setNext] = useState("");
  const held = (getIn(document, path) as unknown[] | undefined) ?? [];
  const method = path.split(".")[1];
  const result = evaluated.result.wheel_detail.progress.find((item) => item.method === method);
  if (!getIn(document, path.split(".").slice(0, 2).join("."))) return null;
  const add = () => {
    if (next.trim() === "" || held.length >= most) return;
    set(path, [...held, typed(next, "mm")]);
    setNext("");
  };
  return (
    <>
      {held.map((_, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: readings have no identity but their place
        <Line key={place} what={t("reading {0}", place + 2)} remove={() => set(path, without(held, place))}>
          <Entry path={`${path}.${place}`} label={t("{0}, again ({1})", label, place + 2)} />
        </Line>
      ))}
      <Flex
        as="form"
        gap={2}
        align="flex-end"
        onSubmit={(event) => {
          event.preventDefault();
          add();
        }}
      >
        <TextField
          label={t("{0}, repeat", label)}
          value={next}
          change={setNext}
          unit={own("mm")[0]}
          numeric
          testId={`${path}.next`}
        />
        <Small type="submit" disabled={held.length >= most}>
          {t("Add")}
        </Small>
      </Flex>
      {result && (
        <Text fontSize="sm" data-testid="progress">
          {t(
            result.scatter_mm === null
              ? "{0} {1}: mean {2} per turn. {3}"
              : "{0} {1}: mean {2} per turn, scatter {4}. {3}",
            result.readings,
            result.readings === 1 ? t("reading") : t("readings"),
            show(result.mean_mm, "mm", 0.01).join(" "),
            result.text,
            show(result.scatter_mm ?? 0, "mm", 20).join(" "),
          )}
        </Text>
      )}
    </>
  );
}
