import { useView } from "../../../ui/address";
import { Views } from "../../../ui/Views";
import { t } from "../../../ui/words";
import { Levels } from "./Levels";
import { Rates } from "./Rates";
import { Ratio } from "./Ratio";
import { Volts } from "./Volts";
import { Wiring } from "./Wiring";

/** Rates of every stage, levels and what makes them square, ratio and voltage for gauges, and the wires. */
export function SignalResult() {
  const [view, choose] = useView("rates");
  return (
    <Views
      label={t("The signal")}
      chosen={view}
      choose={choose}
      views={[
        { code: "rates", label: t("Frequencies"), content: <Rates /> },
        { code: "levels", label: t("Levels"), content: <Levels /> },
        { code: "ratio", label: t("Pulse-ratio converter"), content: <Ratio /> },
        { code: "volts", label: t("Frequency to voltage"), content: <Volts /> },
        { code: "wiring", label: t("Wires and order sheet"), content: <Wiring /> },
      ]}
    />
  );
}
