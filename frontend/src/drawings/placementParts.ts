import type { Schemas } from "../api/client";

/** Each of the two views of the placement drawing. */
export const WIDTH = 330;
export const HEIGHT = 280;

export type Placed = {
  air_gap_mm: number;
  lateral_offset_mm: number;
  clocking_angle_deg: number;
  tilt_deg: number;
  runout_mm: number;
};
export type Field = keyof Placed;

export type PlacementParts = {
  detail: Schemas["PlacementDetail"];
  facts: Schemas["Facts"];
  paired: boolean;
  reed: boolean;
  spot: { along_mm: number; across_mm: number; feature: string };
  /** Teeth or poles: pitch, tooth, face and depth; a magnet: its size across and along. */
  row: { pitch: number; tooth: number; face: number; depth: number } | null;
  magnet: { across: number; along: number; length: number; round: boolean } | null;
  second: number | null;
  /** Runout the figures were worked out with. */
  runout_mm: number;
};

/** What a view of the placement drawing draws, and what it tells when something is moved. */
export type ViewProps = {
  parts: PlacementParts;
  placed: Placed;
  scale: number;
  change: (field: Field, value: number) => void;
  done: () => void;
};
