import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { PlacementDrawing } from "../../../drawings/PlacementDrawing";
import type { Placed, PlacementParts } from "../../../drawings/placementParts";
import { useEditing } from "../context";
import { grown } from "../schema";
import type { PlacementView } from "../sensing";

const FOLLOW_MS = 80;

/** The placement of this installation: the drawing follows the hand at once, the figures a moment later. */
export function MovedPlacement({
  view,
  passing,
  marking,
  marked,
}: {
  view: Pick<PlacementView, "detail" | "facts">;
  passing: boolean;
  /** Whether a press on the tip marks the sensing element, and what happens then. */
  marking: boolean;
  marked: () => void;
}) {
  const { document, evaluated, catalogue, set, preview, commit } = useEditing();
  const kind = catalogue.sensors.find((item) => item.code === evaluated.document.sensor.kind);
  const { ring } = evaluated.result;
  const { magnets, kind: targetKind } = evaluated.document.target;
  const single = targetKind === "magnets";
  const kept = evaluated.document.placement;
  const runout_mm = single ? Number(magnets?.runout_mm ?? 0) : Number(evaluated.document.target.ring?.runout_mm ?? 0);
  const there: Placed = {
    runout_mm,
    air_gap_mm: view.detail.air_gap_mm,
    lateral_offset_mm: view.detail.element_sideways_mm - Number(evaluated.document.sensor.element_mark?.across_mm ?? 0),
    clocking_angle_deg: view.detail.clocking_angle_deg,
    tilt_deg: Number(kept?.tilt_deg ?? 0),
  };
  const runout = single ? document.target.magnets?.runout_mm : document.target.ring?.runout_mm;
  const follow = (field: keyof Placed, value: number) => {
    const path = single ? "target.magnets.runout_mm" : "target.ring.runout_mm";
    preview(...grown(catalogue, document, field === "runout_mm" ? path : `placement.${field}`, value));
  };
  const { placed, change, done } = useMoving(there, { ...document.placement, runout_mm: runout }, follow, commit);
  const spot = evaluated.document.sensor.element_mark;
  const parts = useMemo<PlacementParts>(
    () => ({
      detail: view.detail,
      facts: view.facts,
      paired: Boolean(kind?.paired),
      reed: kind?.code === "reed",
      spot: {
        along_mm: Number(spot?.along_mm ?? 0),
        across_mm: Number(spot?.across_mm ?? 0),
        feature: spot?.feature ?? "unknown",
      },
      row:
        ring && !single
          ? {
              pitch: ring.pitch_mm,
              tooth: ring.tooth_mm,
              face: ring.face_mm,
              depth: ring.depth_mm ?? ring.pitch_mm / 2,
            }
          : null,
      magnet:
        single && magnets
          ? {
              along: Number(magnets.diameter_mm),
              across: Number(magnets.form === "bar" ? magnets.width_mm : magnets.diameter_mm),
              length: Number(magnets.length_mm),
              round: magnets.form !== "bar",
            }
          : null,
      runout_mm,
      second: kept?.second_channel ? Number(kept.second_channel.spacing_mm) : null,
    }),
    [view, kind, spot, ring, single, magnets, runout_mm, kept],
  );
  const put = (along: number, across: number) => {
    const feature = document.sensor.element_mark?.feature;
    set("sensor.element_mark", {
      feature: !feature || feature === "unknown" ? "middle" : feature,
      along_mm: Number(along.toFixed(1)),
      across_mm: Number(across.toFixed(1)),
    });
    marked();
  };
  return (
    <PlacementDrawing
      parts={parts}
      placed={placed}
      change={change}
      done={done}
      mark={marking ? put : undefined}
      passing={passing}
    />
  );
}

/**
 * What is drawn while it is dragged; the document follows every now and then, and the whole drag is one edit. A moved value stands until
 * the figures have caught up with it, or the document says something else.
 */
function useMoving(
  there: Placed,
  asked: Partial<Record<keyof Placed, unknown>>,
  keep: (field: keyof Placed, value: number) => void,
  commit: () => void,
) {
  const [moving, move] = useState<Partial<Placed>>({});
  const timer = useRef(0);
  const last = useRef<[keyof Placed, number] | null>(null);
  const keeper = useRef(keep);
  keeper.current = keep;
  const stands = ([field, value]: [string, number]) => {
    const name = field as keyof Placed;
    if (last.current?.[0] === name) return true;
    return Number(asked[name]) === value && there[name] !== value;
  };
  const left = Object.fromEntries(Object.entries(moving).filter(stands)) as Partial<Placed>;
  const stood = useRef(left);
  stood.current = left;
  useEffect(() => () => window.clearTimeout(timer.current), []);
  const flush = useCallback(() => {
    timer.current = 0;
    if (last.current) keeper.current(...last.current);
    last.current = null;
  }, []);
  const change = useCallback(
    (field: keyof Placed, value: number) => {
      last.current = [field, value];
      move({ ...stood.current, [field]: value });
      if (timer.current === 0) timer.current = window.setTimeout(flush, FOLLOW_MS);
    },
    [flush],
  );
  const done = useCallback(() => {
    window.clearTimeout(timer.current);
    flush();
    commit();
  }, [flush, commit]);
  return { placed: { ...there, ...left }, change, done };
}
