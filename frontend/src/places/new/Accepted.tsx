import { Text } from "@chakra-ui/react";
import type { Catalogue } from "../../api/client";
import { TextField } from "../../ui/fields";
import { t } from "../../ui/words";
import { type Inputs, usualAt } from "./inputs";

/** What a unit that compares counts takes. */
export function Accepted(props: {
  inputs: Inputs;
  change: (some: Partial<Inputs>) => void;
  catalogue: Catalogue;
  problem: (path: string, name: keyof Inputs) => string | undefined;
}) {
  const { inputs, change, catalogue, problem } = props;
  return (
    <>
      <Text>{t("The unit cannot be set: it compares the counts of the wheels.")}</Text>
      <TextField
        label={t("Fewest pulses per turn that it accepts")}
        value={inputs.leastCounts}
        change={(leastCounts) => change({ leastCounts })}
        error={problem("readouts.0.least_pulses_per_turn", "leastCounts")}
        hint={t("from its data sheet; usual is {0}", usualAt(catalogue, "readouts.0.least_pulses_per_turn"))}
        numeric
        nudge={1}
        testId="least-counts"
      />
      <TextField
        label={t("Most pulses per turn that it accepts")}
        value={inputs.mostCounts}
        change={(mostCounts) => change({ mostCounts })}
        error={problem("readouts.0.most_pulses_per_turn", "mostCounts")}
        hint={t("from its data sheet; usual is {0}", usualAt(catalogue, "readouts.0.most_pulses_per_turn"))}
        numeric
        nudge={1}
        testId="most-counts"
      />
    </>
  );
}
