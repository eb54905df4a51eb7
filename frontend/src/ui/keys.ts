import { useLayoutEffect, useSyncExternalStore } from "react";
import { keepText, readKept } from "./device";
import { t } from "./words";

export type KeyMap = Record<string, (event: KeyboardEvent) => void>;

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

const KEPT = "wheelometron.single-keys";
const listeners = new Set<() => void>();

/** Whether single keys act at all: who speaks to the machine, or rests a hand on the keys, can switch them off. */
export const singleKeys = () => readKept("local", KEPT) !== "off";

export function switchSingleKeys() {
  keepText("local", KEPT, singleKeys() ? "off" : "on");
  for (const listener of listeners) listener();
}

export const useSingleKeys = () =>
  useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, singleKeys);

/** Single keys outside of fields, and undo: inside a field it takes back the field's own text. */
export function useKeys(map: KeyMap) {
  useLayoutEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      const mod = event.ctrlKey || event.metaKey;
      const name = `${mod ? "mod+" : ""}${event.shiftKey && mod ? "shift+" : ""}${mod ? event.key.toLowerCase() : event.key}`;
      const act = map[name];
      if (!act || event.altKey || typing(event.target)) return;
      if (!mod && !singleKeys()) return;
      if (!mod && document.querySelector("[role=dialog][data-state=open]")) return;
      event.preventDefault();
      act(event);
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, [map]);
}

export const KEYS: [string, string][] = [
  ["?", t("this list")],
  ["y", t("the vehicles page")],
  ["t", t("dark or light theme")],
  ["u", t("units: km/h and mm, mph and inches, knots")],
  ["/", t("search the vehicles page")],
  ["e", t("the first field of the page")],
  ["d", t("the drawing or plot of the page")],
  ["1 … 6", t("wheel, drive, target, sensor, signal, readout")],
  ["b", t("the bench of this installation, and back")],
  ["n", t("next stage that is not verified")],
  ["w", t("why: the formulas with this installation's numbers")],
  ["l", t("logbook of this installation")],
  ["v", t("all installations of this vehicle at one speed")],
  [t("↑ ↓ in a field"), t("step the number; with Shift by ten")],
  [
    t("Tab, then ↑ ↓ ← → in a drawing"),
    t("move the sensor; Shift, Page up and Page down by ten; Home and End to its limits"),
  ],
  [t("Ctrl Z, Ctrl Shift Z"), t("undo, redo")],
];
