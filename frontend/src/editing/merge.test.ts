import * as fc from "fast-check";
import { describe, expect, it } from "vitest";
import { merge } from "./merge";
import { type Change, changesBetween, getIn, put, same } from "./paths";

const leaf = fc.oneof(fc.integer({ min: 0, max: 3 }), fc.constantFrom("a", "b", null, true));
const paper = fc.record({
  a: leaf,
  b: fc.record({ c: leaf, d: fc.record({ e: leaf, f: leaf }) }),
  list: fc.array(leaf, { maxLength: 3 }),
  rows: fc.array(fc.record({ x: leaf }), { minLength: 2, maxLength: 2 }),
});
type Paper = { a: unknown; b: { c: unknown; d: { e: unknown; f: unknown } }; list: unknown[]; rows: { x: unknown }[] };
const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value));
const applied = (start: unknown, changes: Change[]) => {
  const draft = { document: copy(start) } as Record<string, unknown>;
  for (const [path, value] of changes) put(draft, [path === "" ? "document" : `document.${path}`, value]);
  return draft.document;
};

describe("changes between two documents", () => {
  it("made to the one give the other", () => {
    fc.assert(fc.property(paper, paper, (one, other) => same(applied(one, changesBetween(one, other)), other)));
  });

  it("are none between a document and itself, and name the fields otherwise", () => {
    const start = { a: 1, b: { c: 2 }, list: [1, 2] };
    expect(changesBetween(start, copy(start))).toEqual([]);
    expect(changesBetween(start, { a: 1, b: { c: 3 }, list: [1, 5] })).toEqual([
      ["b.c", 3],
      ["list.1", 5],
    ]);
    expect(changesBetween(start, { a: 1, b: { c: 2 }, list: [1] })).toEqual([["list", [1]]]);
    expect(changesBetween(start, { b: { c: 2 }, list: [1, 2] })).toEqual([["a", undefined]]);
  });
});

describe("three-way merge", () => {
  const of = (base: Paper, mine: Paper, theirs: Paper) => merge(base, base, mine, theirs);

  it("with nothing changed on one side is the other side", () => {
    fc.assert(
      fc.property(paper, paper, (base, other) => {
        expect(same(of(base, base, other).document, other)).toBe(true);
        expect(same(of(base, other, base).document, other)).toBe(true);
        expect(of(base, other, other).clashes).toEqual([]);
      }),
    );
  });

  it("never loses a change: every field that one side alone changed has that value", () => {
    fc.assert(
      fc.property(paper, paper, paper, (base, mine, theirs) => {
        const { document, clashes } = of(base, mine, theirs);
        const clashing = (path: string) =>
          clashes.some(
            (clash) => path === clash.path || path.startsWith(`${clash.path}.`) || clash.path.startsWith(`${path}.`),
          );
        const paths = ["a", "b.c", "b.d.e", "b.d.f", "rows.0.x", "rows.1.x", "list"];
        for (const path of paths.filter((one) => !clashing(one))) {
          const [was, ours, others] = [base, mine, theirs].map((side) => getIn(side, path));
          if (!same(was, ours) && !same(was, others)) continue; // a list of which both changed other places
          expect(same(getIn(document, path), same(was, ours) ? others : ours)).toBe(true);
        }
      }),
    );
  });

  it("says every clash once, with the three values, and keeps mine", () => {
    fc.assert(
      fc.property(paper, paper, paper, (base, mine, theirs) => {
        const { document, clashes } = of(base, mine, theirs);
        for (const clash of clashes) {
          expect(same(clash.mine, clash.theirs)).toBe(false);
          expect(same(getIn(document, clash.path), clash.mine)).toBe(true);
          expect(same(getIn(base, clash.path), clash.base)).toBe(true);
        }
        expect(new Set(clashes.map(({ path }) => path)).size).toBe(clashes.length);
      }),
    );
  });

  it("is the same for both, but for the clashes", () => {
    fc.assert(
      fc.property(paper, paper, paper, (base, mine, theirs) => {
        const [one, other] = [of(base, mine, theirs), of(base, theirs, mine)];
        expect(one.clashes.map(({ path }) => path).sort()).toEqual(other.clashes.map(({ path }) => path).sort());
        if (one.clashes.length === 0) expect(same(one.document, other.document)).toBe(true);
      }),
    );
  });

  it("takes a list of another length as one field", () => {
    const base = { runs: [1, 2] };
    expect(merge(base, base, { runs: [1, 2, 3] }, { runs: [1, 2] }).document).toEqual({ runs: [1, 2, 3] });
    expect(merge(base, base, { runs: [1, 2, 3] }, { runs: [7, 2] }).clashes).toHaveLength(1);
  });

  it("knows its own text in what the server stored", () => {
    const merged = merge({ mm: "3 ft" as string | number }, { mm: 914.4 }, { mm: "4 ft" }, { mm: 914.4 });
    expect(merged).toEqual({ document: { mm: "4 ft" }, clashes: [], taken: [] });
  });
});
