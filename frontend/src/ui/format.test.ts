import * as fc from "fast-check";
import { describe, expect, it } from "vitest";
import { figure, percent, signed } from "./format";

describe("figures", () => {
  it("have the digits that their uncertainty deserves", () => {
    expect(figure(1927.345, 0.5)).toBe("1927");
    expect(figure(99.617, 0.5)).toBe("99.6");
    expect(figure(0.61234, 1)).toBe("0.612");
  });

  it("without an uncertainty have six, and no zeros at the end", () => {
    expect(figure(62.1371192)).toBe("62.1371");
    expect(figure(0.5)).toBe("0.5");
    expect(figure(100)).toBe("100");
  });

  it("are never further off than their last digit", () => {
    fc.assert(
      fc.property(fc.double({ min: 0.001, max: 9999, noNaN: true }), fc.constantFrom(0, 0.1, 1, 5), (value, u) => {
        const text = figure(value, u);
        const places = text.split(".")[1]?.length ?? 0;
        expect(Math.abs(Number(text) - value)).toBeLessThanOrEqual(Math.max(0.5 * 10 ** -places, value * 1e-5) * 1.001);
        expect(text).not.toMatch(/e/);
      }),
    );
  });
});

describe("signs", () => {
  it("stand before what is not nothing", () => {
    expect([signed(1.234), signed(-1.234), signed(0.001), signed(-0.001)]).toEqual(["+1.23", "−1.23", "0.00", "0.00"]);
    expect([percent(12.3), percent(1.23)]).toEqual(["12", "1.2"]);
  });
});
