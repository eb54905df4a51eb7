import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { between } from "../../recordings/between";
import { groupsOf } from "./groups";

describe("channels of a recording", () => {
  it("time to distance and back is the same time, wherever it moves", () => {
    const steps = fc.array(
      fc.tuple(fc.float({ min: 0.5, max: 9, noNaN: true }), fc.float({ min: 1, max: 50, noNaN: true })),
      {
        minLength: 2,
        maxLength: 30,
      },
    );
    fc.assert(
      fc.property(steps, fc.float({ min: 0, max: 1, noNaN: true }), (found, share) => {
        const times = found.map((_, at) => found.slice(0, at).reduce((sum, [seconds]) => sum + seconds, 0));
        const ways = found.map((_, at) => found.slice(0, at).reduce((sum, [, metres]) => sum + metres, 0));
        const time = share * (times.at(-1) as number);
        expect(between(ways, times, between(times, ways, time))).toBeCloseTo(time, 3);
      }),
    );
  });

  it("beyond the ends it stays at them, and a standstill is one place", () => {
    expect(between([0, 10], [5, 25], -3)).toBe(5);
    expect(between([0, 10], [5, 25], 99)).toBe(25);
    expect(between([0, 10, 20, 30], [0, 100, 100, 200], 15)).toBe(100);
    expect(between([], [], 7)).toBe(7);
  });

  it("channels of one quantity are drawn together, others each by itself", () => {
    const channel = (name: string, quantity: string) => ({ name, quantity }) as never;
    const groups = groupsOf([
      channel("a", "speed"),
      channel("b", "other"),
      channel("c", "speed"),
      channel("d", "other"),
    ]);
    expect(groups.map((group) => group.channels.map(({ name }) => name))).toEqual([["a", "c"], ["b"], ["d"]]);
  });
});
