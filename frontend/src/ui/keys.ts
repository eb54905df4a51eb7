import { useLayoutEffect } from "react";

export type KeyMap = Record<string, (event: KeyboardEvent) => void>;

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

/** Single keys outside of fields, and undo: inside a field it takes back the field's own text. */
export function useKeys(map: KeyMap) {
  useLayoutEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      const mod = event.ctrlKey || event.metaKey;
      const name = `${mod ? "mod+" : ""}${event.shiftKey && mod ? "shift+" : ""}${mod ? event.key.toLowerCase() : event.key}`;
      const act = map[name];
      if (!act || event.altKey || typing(event.target)) return;
      if (!mod && document.querySelector("[role=dialog][data-state=open]")) return;
      event.preventDefault();
      act(event);
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, [map]);
}

export const KEYS: [string, string][] = [
  ["?", "this list"],
  ["y", "the vehicles page"],
  ["t", "dark or light theme"],
  ["u", "units: km/h and mm, mph and inches, knots"],
  ["/", "search the vehicles page"],
  ["1 … 6", "wheel, drive, target, sensor, signal, readout"],
  ["b", "the bench of this installation, and back"],
  ["n", "next stage that is not verified"],
  ["w", "why: the formulas with this installation's numbers"],
  ["l", "logbook of this installation"],
  ["v", "all installations of this vehicle at one speed"],
  ["↑ ↓ in a field", "step the number; with Shift by ten"],
  ["Tab, then ↑ ↓ ← → in a drawing", "move the sensor; with Shift by ten"],
  ["Ctrl Z, Ctrl Shift Z", "undo, redo"],
];
