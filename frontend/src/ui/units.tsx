import { useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useLayoutEffect, useMemo, useState } from "react";
import { api, data, type Schemas, speedsIn } from "../api/client";
import { keys, useSession } from "../api/hooks";
import { keepText, readKept } from "./device";
import { figure } from "./format";

/** How a person reads speeds and lengths. What is typed into a machine stays in the machine's own unit. */
type System = Schemas["UnitSystem"];
type Code = System["code"];

const PLAIN: System = { code: "metric", speed_unit: "km/h", speed_kmh: 1, length_unit: "mm", length_mm: 1 };

function useSystems() {
  const systems = useSession().data?.systems ?? [PLAIN];
  const called = (code: Code) => systems.find((item) => item.code === code) ?? systems[0] ?? PLAIN;
  const after = ({ code }: System) => systems[(systems.findIndex((item) => item.code === code) + 1) % systems.length];
  return { systems, called, after: (system: System) => after(system) ?? PLAIN };
}

const KEPT = "wheelometron.units";

const BARE = /^\s*[\d.,]+\s*$/;

type Units = {
  speedUnit: string;
  /** This person's unit of speed for one km/h. */
  scale: number;
  flip: () => void;
  /** A value of the core as this person reads it: text with the digits it deserves, and its unit. */
  show: (value: number, unit: string, relativePct?: number) => [string, string];
  /** The unit in which this person reads a quantity, and how many of the core's unit it is. */
  own: (unit: string) => [string, number];
  /** What was typed, with this person's unit where there is a number alone. */
  typed: (text: string, unit: string) => string;
  /** The same the other way: a value or a typed text as it stands in a field, without this person's unit. */
  inOwn: (value: unknown, unit: string) => string;
  systems: readonly System[];
};

const UnitsContext = createContext<Units | null>(null);

/** The units belong to the account; before signing in, to the device. */
export function UnitsProvider({ children }: { children: ReactNode }) {
  const session = useSession().data;
  const client = useQueryClient();
  const { called, after } = useSystems();
  const [local, set] = useState(() => readKept("local", KEPT) as Code | null);
  const system = called((session?.signed_in ? session.units : local) ?? "metric");
  const flip = () => {
    const next = after(system).code;
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
  const { called, after } = useSystems();
  const [code, set] = useState<Code>("nautical");
  return (
    <Shown system={called(code)} flip={() => set(after(called(code)).code)} of="page">
      {children}
    </Shown>
  );
}

/** The figures of a boat among other vehicles: in knots, where the account does not read miles per hour. */
export function Knots({ children }: { children: ReactNode }) {
  const { called } = useSystems();
  const { speedUnit, flip } = useUnits();
  return (
    <Shown system={called(speedUnit === "mph" ? "imperial" : "nautical")} flip={flip}>
      {children}
    </Shown>
  );
}

/** Figures and the server's texts in one system. */
function Shown(props: { system: System; flip: () => void; of?: "person" | "page"; children: ReactNode }) {
  const { system, flip, of, children } = props;
  const client = useQueryClient();
  const { systems } = useSystems();
  const speedUnit = system.speed_unit;
  useLayoutEffect(() => {
    if (!of) return;
    if (speedsIn[of] !== speedUnit)
      client.invalidateQueries({ predicate: (query) => query.queryKey[0] !== keys.session[0] });
    speedsIn[of] = speedUnit;
    return () => {
      if (of === "page") speedsIn.page = undefined;
    };
  }, [client, of, speedUnit]);
  const units = useMemo((): Units => {
    const own = (unit: string): [string, number] => {
      if (unit === "km/h") return [system.speed_unit, system.speed_kmh];
      return unit === "mm" ? [system.length_unit, system.length_mm] : [unit, 1];
    };
    const show = (value: number, unit: string, relativePct = 0): [string, string] => {
      const [name, size] = own(unit);
      const shown = value / size;
      // what was a round number in the core's unit gets no more digits by its conversion
      return [figure(size === 1 || relativePct > 0 ? shown : Number(shown.toPrecision(4)), relativePct), name];
    };
    return {
      systems,
      speedUnit,
      scale: 1 / system.speed_kmh,
      flip,
      own,
      inOwn: (value, unit) => {
        const [name, size] = own(unit);
        const text = String(value ?? "");
        if (typeof value === "number") return String(Number((value / size).toPrecision(size === 1 ? 7 : 6)));
        if (size === 1 || text === "") return text;
        return BARE.test(text) ? `${text} ${unit}` : text.replace(` ${name}`, "");
      },
      typed: (text, unit) => {
        const [name, size] = own(unit);
        return size !== 1 && BARE.test(text) ? `${text.trim()} ${name}` : text;
      },
      show,
    };
  }, [system, systems, speedUnit, flip]);
  return <UnitsContext value={units}>{children}</UnitsContext>;
}

export function useUnits(): Units {
  const units = useContext(UnitsContext);
  if (!units) throw new Error("Units are asked for outside of their provider.");
  return units;
}
