import { describe, expect, it } from "vitest";
import type { Catalogue, FieldProblem } from "../../api/client";
import { withoutUnfinished } from "./schema";

const catalogue = { fields: [] } as unknown as Catalogue;
const problem = (path: string, more: Partial<FieldProblem>): FieldProblem => ({
  path: `drive.sprockets.${path}`,
  message: "",
  remedy: "",
  limit: "",
  value: "",
  missing: false,
  ...more,
});
const left = (sprockets: object, ...problems: FieldProblem[]) =>
  withoutUnfinished(catalogue, { kind: "sprockets", sprockets }, "drive", problems, (name) => name === "sprockets")
    .sprockets;

describe("entries of an alternative that is left", () => {
  it("go where something is missing, and stay where nothing is", () => {
    const missing = problem("shaft_teeth", { missing: true });
    expect(left({ wheel_teeth: 45, shaft_teeth: "" }, missing)).toBeNull();
    expect(left({ wheel_teeth: 45 }, missing)).toBeNull();
    expect(left({ wheel_teeth: 45, shaft_teeth: 15 })).toEqual({ wheel_teeth: 45, shaft_teeth: 15 });
  });

  it("stay when what was missing has been typed since the server said so", () => {
    const typed = { wheel_teeth: 45, shaft_teeth: "15" };
    expect(left(typed, problem("shaft_teeth", { missing: true }))).toEqual(typed);
  });

  it("go with a value that cannot be used, and stay when it was corrected since", () => {
    const wrong = problem("shaft_teeth", { value: "many" });
    expect(left({ shaft_teeth: "many" }, wrong)).toBeNull();
    expect(left({ shaft_teeth: "15" }, wrong)).toEqual({ shaft_teeth: "15" });
  });
});
