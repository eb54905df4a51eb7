import { useView } from "../../../ui/address";
import { Views } from "../../../ui/Views";
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
      label="The signal"
      chosen={view}
      choose={choose}
      views={[
        { code: "rates", label: "Frequencies", content: <Rates /> },
        { code: "levels", label: "Levels", content: <Levels /> },
        { code: "ratio", label: "Pulse-ratio converter", content: <Ratio /> },
        { code: "volts", label: "Frequency to voltage", content: <Volts /> },
        { code: "wiring", label: "Wires and order sheet", content: <Wiring /> },
      ]}
    />
  );
}
