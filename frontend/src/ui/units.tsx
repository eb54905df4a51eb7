import { type Query, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useEffect, useLayoutEffect, useMemo, useState } from "react";
import { api, data, readIn, readPersonIn, type Schemas } from "../api/client";
import { keys, useSession } from "../api/hooks";
import { keepText, readKept } from "./device";
import { figure } from "./format";

/** How a person reads speeds and lengths. What is typed into a machine stays in the machine's own unit. */
type System = Schemas["UnitSystem"];
type Code = System["code"];

const PLAIN: System = {
  code: "metric",
  label: "km/h",
  speed_unit: "km/h",
  speed_kmh: 1,
  length_unit: "mm",
  length_mm: 1,
};

function useSystems() {
  const session = useSession().data;
  const systems = session?.systems ?? [PLAIN];
  const called = (code: Code) => systems.find((item) => item.code === code) ?? systems[0] ?? PLAIN;
  const after = ({ code }: System) => systems[(systems.findIndex((item) => item.code === code) + 1) % systems.length];
  return { systems, called, known: session !== undefined, after: (system: System) => after(system) ?? PLAIN };
}

const KEPT = "wheelometron.units";

const BARE = /^\s*[\d.,]+\s*$/;

type Units = {
  speedUnit: string;
  /** The system as its button says it. */
  label: string;
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
  system: System;
};

const UnitsContext = createContext<Units | null>(null);

/** The units belong to the device: the account says only what a device begins with. */
export function UnitsProvider({ children }: { children: ReactNode }) {
  const session = useSession().data;
  const client = useQueryClient();
  const { called, after } = useSystems();
  const [chosen, choose] = useState(() => readKept("local", KEPT) as Code | null);
  const begins = session?.signed_in ? session.units : null;
  useEffect(() => {
    if (chosen || !begins) return;
    keepText("local", KEPT, begins); // from now on no press on another device changes it
    choose(begins);
  }, [chosen, begins]);
  const system = called(chosen ?? begins ?? "metric");
  const flip = () => {
    const next = after(system).code;
    keepText("local", KEPT, next);
    choose(next);
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

type OfVehicle = { vehicle: number | undefined; afloat?: boolean; children: ReactNode };

/** The system in which this device reads a vehicle: what was chosen on its pages, else knots on a boat, else as elsewhere. */
function useSystemOf(vehicle: number | undefined, afloat = false): [System, () => void] {
  const { called, after } = useSystems();
  const general = useUnits().system;
  const key = `${KEPT}.${vehicle}`;
  const [chosen, choose] = useState<Record<string, Code>>({});
  const code = chosen[key] ?? (readKept("local", key) as Code | null);
  const system = code ? called(code) : afloat ? called("nautical") : general;
  return [
    system,
    () => {
      const next = after(system).code;
      keepText("local", key, next);
      choose({ ...chosen, [key]: next });
    },
  ];
}

/** A page about one vehicle: its units are chosen on it, and kept on this device for this vehicle. */
export function UnitsOfVehicle({ vehicle, afloat, children }: OfVehicle) {
  const [system, flip] = useSystemOf(vehicle, afloat);
  return (
    <Shown system={system} flip={flip} of="page">
      {children}
    </Shown>
  );
}

/** The figures of one vehicle among others. */
export function FiguresOfVehicle({ vehicle, afloat, children }: OfVehicle) {
  const [system] = useSystemOf(vehicle, afloat);
  const { flip } = useUnits();
  return (
    <Shown system={system} flip={flip}>
      {children}
    </Shown>
  );
}

/** Figures and the server's texts in one system. */
function Shown(props: { system: System; flip: () => void; of?: "person" | "page"; children: ReactNode }) {
  const { system, flip, of, children } = props;
  const client = useQueryClient();
  const { systems, known } = useSystems();
  const { speed_unit: speedUnit, length_unit: lengthUnit, label } = system;
  useLayoutEffect(() => {
    if (!of || !known) return; // before the session is known nothing says in what this person reads
    const others = { predicate: (query: Query) => query.queryKey[0] !== keys.session[0] };
    // what is still on its way for the first time would come in the units of before, and count as fresh
    const renew = () => client.cancelQueries(others).then(() => client.invalidateQueries(others));
    const { page, person } = readIn;
    const before = page ?? person;
    if (of === "page") readIn.page = { speed: speedUnit, length: lengthUnit };
    else readPersonIn({ speed: speedUnit, length: lengthUnit });
    if (before.speed !== speedUnit || before.length !== lengthUnit) renew();
    return () => {
      if (of === "page") readIn.page = undefined;
    };
  }, [client, of, known, speedUnit, lengthUnit]);
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
      system,
      speedUnit,
      label,
      scale: 1 / system.speed_kmh,
      flip,
      own,
      inOwn: (value, unit) => {
        const [name, size] = own(unit);
        const text = String(value ?? "");
        // a round number of the core's unit gets no digits by its conversion that nobody gave it
        const round = typeof value === "number" && value === Number(value.toPrecision(2));
        if (typeof value === "number")
          return String(Number((value / size).toPrecision(size === 1 ? 7 : round ? 4 : 6)));
        if (size === 1 || text === "") return text;
        return BARE.test(text) ? `${text} ${unit}` : text.replace(` ${name}`, "");
      },
      typed: (text, unit) => {
        const [name, size] = own(unit);
        return size !== 1 && BARE.test(text) ? `${text.trim()} ${name}` : text;
      },
      show,
    };
  }, [system, systems, speedUnit, label, flip]);
  return <UnitsContext value={units}>{children}</UnitsContext>;
}

export function useUnits(): Units {
  const units = useContext(UnitsContext);
  if (!units) throw new Error("Units are asked for outside of their provider.");
  return units;
}
