import { describe, expect, it } from "vitest";
import { textNow } from "./law";
import type { JobSheet } from "./queue";

const law = {
  factor: 1 / 3,
  powers: [{ step: "roll", exponent: 1 }],
  rounding: "up",
  step: 1,
  minimum: 100,
  maximum: 9999,
};
const steps = [
  { code: "roll", unit: "mm", law: null, pattern: "", text: "Roll it." },
  {
    code: "enter_setting",
    unit: "",
    law,
    pattern: "Enter {number} mm.",
    text: "Enter … mm. The number follows after step 1.",
  },
];
const sheet = (number: number | null) => ({ steps, records: [{ number }, { number: null }] }) as unknown as JobSheet;
const enter = steps[1] as unknown as JobSheet["steps"][number];

describe("a number on a sheet", () => {
  it("a setting follows from what was measured here and is not sent yet", () => {
    expect(textNow(enter, sheet(null), new Map([["roll", "5791"]]))).toBe("Enter 1931 mm.");
    expect(textNow(enter, sheet(null), new Map([["roll", "5790 mm"]]))).toBe("Enter 1930 mm.");
    expect(textNow(enter, sheet(4000), new Map([["roll", "5790,0"]]))).toBe("Enter 1930 mm.");
  });

  it("it waits where the number is in another unit, and is the server's where all is sent", () => {
    expect(textNow(enter, sheet(null), new Map([["roll", "5.79 m"]]))).toBe(
      "Enter … mm. The number follows after step 1.",
    );
    expect(textNow(enter, sheet(5790), new Map())).toBe(enter.text);
  });
});
