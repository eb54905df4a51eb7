import { createContext, type ReactNode, useContext, useState } from "react";
import { figure } from "./format";

/** How a person reads speeds and lengths. What is typed into a machine stays in the machine's own unit. */
const SYSTEMS = {
  metric: { "km/h": ["km/h", 1], mm: ["mm", 1] },
  imperial: { "km/h": ["mph", 1 / 1.609344], mm: ["in", 1 / 25.4] },
  nautical: { "km/h": ["kn", 1 / 1.852], mm: ["mm", 1] },
} as const;

type System = keyof typeof SYSTEMS;
const ORDER: System[] = ["metric", "imperial", "nautical"];
const KEPT = "wheelometron.units";

type Units = {
  speedUnit: string;
  flip: () => void;
  /** A value of the core as this person reads it: text with the digits it deserves, and its unit. */
  show: (value: number, unit: string, relativePct?: number) => [string, string];
};

const UnitsContext = createContext<Units | null>(null);

export function UnitsProvider({ children }: { children: ReactNode }) {
  const [system, set] = useState<System>(() => {
    const kept = localStorage.getItem(KEPT) as System | null;
    return kept && ORDER.includes(kept) ? kept : "metric";
  });
  const flip = () => {
    const next = ORDER[(ORDER.indexOf(system) + 1) % ORDER.length] ?? "metric";
    localStorage.setItem(KEPT, next);
    set(next);
  };
  const show = (value: number, unit: string, relativePct = 0): [string, string] => {
    const [name, factor] = unit === "km/h" || unit === "mm" ? SYSTEMS[system][unit] : [unit, 1];
    return [figure(value * factor, relativePct), name];
  };
  return <UnitsContext value={{ speedUnit: SYSTEMS[system]["km/h"][0], flip, show }}>{children}</UnitsContext>;
}

export function useUnits(): Units {
  const units = useContext(UnitsContext);
  if (!units) throw new Error("Units are asked for outside of their provider.");
  return units;
}
