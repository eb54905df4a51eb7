import { useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useLayoutEffect, useState } from "react";
import { api, data, type Schemas, speedsIn } from "../api/client";
import { keys, useSession } from "../api/hooks";
import { keepText, readKept } from "./device";
import { figure } from "./format";

/** How many km/h each unit of speed is. */
export const KMH_IN = { "km/h": 1, mph: 1.609344, kn: 1.852 } as const;

/** How a person reads speeds and lengths. What is typed into a machine stays in the machine's own unit. */
const SYSTEMS = {
  metric: { "km/h": ["km/h", 1], mm: ["mm", 1] },
  imperial: { "km/h": ["mph", 1 / KMH_IN.mph], mm: ["in", 1 / 25.4] },
  nautical: { "km/h": ["kn", 1 / KMH_IN.kn], mm: ["mm", 1] },
} as const;

type System = Schemas["SessionOut"]["units"];
const ORDER = ["metric", "imperial", "nautical"] as const;
type Ordered = (typeof ORDER)[number];
const after = (system: Ordered) => ORDER[(ORDER.indexOf(system) + 1) % ORDER.length] ?? "metric";
const KEPT = "wheelometron.units";

type Units = {
  speedUnit: string;
  /** This person's unit of speed for one km/h. */
  scale: number;
  flip: () => void;
  /** A value of the core as this person reads it: text with the digits it deserves, and its unit. */
  show: (value: number, unit: string, relativePct?: number) => [string, string];
  /** A speed in this person's unit and in another one, where numbers pass between people and machines. */
  both: (kmh: number, relativePct?: number) => string;
};

const UnitsContext = createContext<Units | null>(null);

/** The units belong to the account; before signing in, to the device. */
export function UnitsProvider({ children }: { children: ReactNode }) {
  const session = useSession().data;
  const client = useQueryClient();
  const [local, set] = useState<System>(() => {
    const kept = ORDER.find((item) => item === readKept("local", KEPT));
    return kept ?? "metric";
  });
  const system: Ordered = (session?.signed_in ? session.units : local) ?? "metric";
  const flip = () => {
    const next = after(system);
    keepText("local", KEPT, next);
    set(next);
    if (!session?.signed_in) return;
    client.setQueryData(keys.session, { ...session, units: next });
    data(api.PUT("/api/session/units", { body: { units: next } })).catch(() => undefined);
  };
  return (
    <Shown system={system} flip={flip} of="person">
      {children}
    </Shown>
  );
}

/** A page about a boat: knots, whatever the account reads, until another unit is chosen on it. */
export function UnitsOnWater({ children }: { children: ReactNode }) {
  const [system, set] = useState<Ordered>("nautical");
  return (
    <Shown system={system} flip={() => set(after(system))} of="page">
      {children}
    </Shown>
  );
}

/** The figures of a boat among other vehicles: in knots, where the account does not read miles per hour. */
export function Knots({ children }: { children: ReactNode }) {
  const { speedUnit, flip } = useUnits();
  return (
    <Shown system={speedUnit === "mph" ? "imperial" : "nautical"} flip={flip}>
      {children}
    </Shown>
  );
}

/** Figures and the server's texts in one system. */
function Shown(props: { system: Ordered; flip: () => void; of?: "person" | "page"; children: ReactNode }) {
  const { system, flip, of, children } = props;
  const client = useQueryClient();
  const unit = SYSTEMS[system]["km/h"][0];
  useLayoutEffect(() => {
    if (!of) return;
    if (speedsIn[of] !== unit)
      client.invalidateQueries({ predicate: (query) => query.queryKey[0] !== keys.session[0] });
    speedsIn[of] = unit;
    return () => {
      if (of === "page") speedsIn.page = undefined;
    };
  }, [client, of, unit]);
  const show = (value: number, unit: string, relativePct = 0): [string, string] => {
    const [name, factor] = unit === "km/h" || unit === "mm" ? SYSTEMS[system][unit] : [unit, 1];
    return [figure(value * factor, relativePct), name];
  };
  const [speedUnit, scale] = SYSTEMS[system]["km/h"];
  const both = (kmh: number, relativePct = 0.1) => {
    const second = system === "metric" ? SYSTEMS.imperial["km/h"] : SYSTEMS.metric["km/h"];
    return `${show(kmh, "km/h", relativePct).join(" ")} (${figure(kmh * second[1], relativePct)} ${second[0]})`;
  };
  return <UnitsContext value={{ speedUnit, scale, flip, show, both }}>{children}</UnitsContext>;
}

export function useUnits(): Units {
  const units = useContext(UnitsContext);
  if (!units) throw new Error("Units are asked for outside of their provider.");
  return units;
}
