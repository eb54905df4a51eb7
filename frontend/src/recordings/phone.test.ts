import { describe, expect, it } from "vitest";
import { asTable, type Fix } from "./phone";

const fix = (at_s: number): Fix => ({ at_s, kmh: 50 + at_s, lat: 54.9, lon: 6.9, accuracy: 4, course: null });

describe("a recording of the phone", () => {
  it("holds what the display showed for some seconds around each press", () => {
    const fixes = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9].map(fix);
    const rows = asTable({ vehicle: 1, begun: "", fixes, marks: [{ at_s: 4, kmh: 60 }] })
      .trim()
      .split("\n")
      .map((line) => line.split(","));
    expect(rows[0]?.[2]).toBe("display [km/h]");
    expect(rows.slice(1).map((row) => row[2])).toEqual(["", ...Array(7).fill("60.00"), "", ""]);
    expect(rows[1]?.[1]).toBe("50.000");
    expect(rows[1]?.[3]).toBe("");
  });

  it("has a line for every fix, also where there is no speed", () => {
    const rows = asTable({ vehicle: 1, begun: "", fixes: [{ ...fix(0), kmh: null }], marks: [] })
      .trim()
      .split("\n");
    expect(rows).toHaveLength(2);
    expect(rows[1]?.split(",")[1]).toBe("");
  });
});
