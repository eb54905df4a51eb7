import { describe, expect, it } from "vitest";
import { IDLE, later, left_s, type Ride } from "./ride";

const ASKED = { hold_kmh: 40, within_kmh: 5, hold_s: 10, key_off_s: 60 };
const begun: Ride = { phase: "hold", since_s: 100, held_s: 0 };
const drive = (speeds: (number | null)[]) =>
  speeds.reduce((ride, kmh, place) => later(ride, 100 + place, kmh, ASKED), begun);

describe("a learning ride", () => {
  it("counts while the speed is held, then waits with the key off, then is over", () => {
    expect(left_s(drive([40, 41, 39, 42]), ASKED)).toBe(7);
    const off = drive(Array(11).fill(40));
    expect(off.phase).toBe("off");
    expect(later(off, off.since_s + 59, 0, ASKED).phase).toBe("off");
    expect(later(off, off.since_s + 60, 0, ASKED).phase).toBe("over");
  });

  it("begins anew when the speed leaves its band", () => {
    const ride = drive([40, 40, 40, 40, 40, 50, 40, 40]);
    expect(ride.phase).toBe("hold");
    expect(left_s(ride, ASKED)).toBe(8);
    expect(drive(Array(40).fill(46)).phase).toBe("hold");
  });

  it("runs by the clock alone where there is no speed", () => {
    expect(drive(Array(11).fill(null)).phase).toBe("off");
  });

  it("stands still before it begins", () => {
    expect(later(IDLE, 5, 40, ASKED)).toBe(IDLE);
  });
});
