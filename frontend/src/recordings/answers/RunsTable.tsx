import { Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { fixed } from "../../ui/format";
import { useUnits } from "../../ui/units";
import { t } from "../../ui/words";
import { Rows } from "./shared";

/** Runs there and back on water, and the current along the first of them. */
export function RunsTable({ runs, begins_s }: { runs: Schemas["Reciprocal"]; begins_s: number }) {
  const { scale, speedUnit } = useUnits();
  const speed = (kmh: number) => `${fixed(kmh * scale, 1)} ${speedUnit}`;
  const headed = runs.runs.some((run) => run.heading_deg != null);
  return (
    <>
      <Text fontSize="sm" data-testid="current">
        {t(
          "Current along the first run: {0} at first, {1} at last; across it: {2}.",
          speed(runs.current_first_kmh),
          speed(runs.current_last_kmh),
          speed(runs.current_across_kmh),
        )}
      </Text>
      <Rows
        heads={[
          t("Run from, s"),
          t("to, s"),
          t("course"),
          ...(headed ? [t("heading")] : []),
          t("over ground"),
          t("shown"),
        ]}
        rows={runs.runs.map((run) => [
          fixed(run.from_s - begins_s, 0),
          fixed(run.to_s - begins_s, 0),
          `${fixed(run.course_deg, 0)}°`,
          ...(headed ? [run.heading_deg == null ? "–" : `${fixed(run.heading_deg, 0)}°`] : []),
          speed(run.ground_kmh),
          speed(run.shown_kmh),
        ])}
      />
    </>
  );
}
