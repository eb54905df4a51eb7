import { changesBetween, same as equal } from "./paths";

/** Equal, where "46" as it was typed is the number that the server stored. */
function same(one: unknown, other: unknown): boolean {
  const [number, text] = typeof one === "number" ? [one, other] : [other, one];
  if (typeof number === "number" && typeof text === "string" && text.trim() !== "") return Number(text) === number;
  return equal(one, other);
}

/** A field that both sides changed, each in its own way. */
export type Clash = { path: string; base: unknown; mine: unknown; theirs: unknown };
export type Merged<T> = {
  document: T;
  /** Where both changed the same; the merged document has mine. */
  clashes: Clash[];
  /** What was taken over from them. */
  taken: string[];
};

/**
 * Three-way merge, field by field: what one side changed is kept, and what both changed differently is a clash.
 * The common start is given twice: as typed here (`sent`) and as the server stored it, which says "3 ft" in millimetres.
 */
export function merge<T>(sent: T, stored: T, mine: T, theirs: T): Merged<T> {
  const clashes: Clash[] = [];
  const taken: string[] = [];
  const document = at(sent, stored, mine, theirs, "") as T;
  return { document, clashes, taken };

  function at(before: unknown, was: unknown, ours: unknown, others: unknown, path: string): unknown {
    if (same(ours, others) || same(was, others)) return ours;
    if (same(before, ours)) {
      taken.push(...changesBetween(was, others, path).map(([changed]) => changed));
      return others;
    }
    const sides = [before, was, ours, others];
    if (sides.every(isRecord)) {
      const names = new Set(sides.flatMap((side) => Object.keys(side as object)));
      const pairs = [...names].map((name): [string, unknown] => [
        name,
        at(...(sides.map((side) => (side as Record<string, unknown>)[name]) as Four), path ? `${path}.${name}` : name),
      ]);
      return Object.fromEntries(pairs.filter(([, value]) => value !== undefined));
    }
    const lists = sides.filter(Array.isArray) as unknown[][];
    const long = lists[0]?.length;
    if (lists.length === 4 && lists.every((list) => list.length === long))
      return (lists[0] as unknown[]).map((_, place) =>
        at(...(lists.map((list) => list[place]) as Four), `${path}.${place}`),
      );
    clashes.push({ path, base: was, mine: ours, theirs: others });
    return ours;
  }
}

type Four = [unknown, unknown, unknown, unknown];
const isRecord = (value: unknown) => value !== null && typeof value === "object" && !Array.isArray(value);
