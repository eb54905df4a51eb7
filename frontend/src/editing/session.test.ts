import { describe, expect, it } from "vitest";
import { at, FIRST, forget, later, open, type Paper } from "./harness";
import { type Kept, ONE_EDIT_MS, ONE_STEP_MS, RETRY_FAILED_MS, RETRY_MS, SAVE_AFTER_MS } from "./session";

describe("typing", () => {
  it("is seen at once and becomes an edit, and a revision, when it is committed", async () => {
    const session = open();
    for (const text of ["4", "46"]) session.preview(["count", text]);
    expect(session.read().document.count).toBe("46");
    expect(at.kept?.document.count).toBe("46");
    await later(60_000);
    expect(at.server.asked).toHaveLength(0);
    session.commit();
    await later(SAVE_AFTER_MS + 5);
    expect(at.server.asked.map(({ document }) => document.count)).toEqual(["46"]);
    expect(session.read().save).toBe("saved");
    expect(at.kept).toBeNull();
  });

  it("that comes back to what it was is no edit", async () => {
    const session = open();
    session.preview(["count", 4]);
    session.preview(["count", 48]);
    session.commit();
    await later(60_000);
    expect(at.server.asked).toHaveLength(0);
    expect(session.read()).toMatchObject({ save: "saved", canUndo: false });
  });

  it("makes the groups that a field belongs to", () => {
    const session = open();
    session.preview(["tyre.pressure.bar", 2]);
    session.commit();
    expect(session.read().document.tyre).toEqual({ text: "205/55R16", mm: null, pressure: { bar: 2 } });
  });

  it("of a new group goes on inside it", () => {
    const session = open();
    session.preview(["tyre", { text: "", mm: 1 }]);
    session.preview(["tyre.mm", 19]);
    session.preview(["tyre.mm", 1927]);
    session.commit();
    expect(session.read().document.tyre).toEqual({ text: "", mm: 1927 });
    session.undo();
    expect(session.read().document.tyre).toEqual(FIRST.tyre);
  });

  it("that cannot be evaluated is kept and not sent; corrected, it is", async () => {
    const session = open();
    session.set(["count", "many"]);
    await later(60_000);
    expect(at.server.asked).toHaveLength(0);
    expect(session.read().save).toBe("refused");
    expect(at.kept?.document.count).toBe("many");
    session.set(["count", 44]);
    await later(SAVE_AFTER_MS + 5);
    expect(session.read().save).toBe("saved");
    expect(at.server.head.document.count).toBe(44);
  });
});

describe("a slow line", () => {
  it("one save at a time: an edit while it flies waits for its answer, and there is no conflict with oneself", async () => {
    at.server.latency = 5000;
    const session = open();
    session.set(["count", 47]);
    await later(SAVE_AFTER_MS + 100);
    expect(session.read().save).toBe("saving");
    session.set(["name", "Dash, front"]);
    session.set(["tyre.text", "195/55R16"]);
    await later(4000);
    expect(at.server.asked).toHaveLength(1);
    await later(20_000);
    expect(at.server.asked).toHaveLength(2);
    expect(at.server.asked[1]?.base).toMatchObject({ number: 2 });
    expect(session.read()).toMatchObject({ save: "saved", conflict: null, base: { number: 3 } });
    expect(at.server.head.document).toEqual({
      ...FIRST,
      count: 47,
      name: "Dash, front",
      tyre: { text: "195/55R16", mm: null },
    });
  });

  it("a lost answer is asked for again with the same key before anything newer is sent", async () => {
    at.server.lose = "answer";
    const session = open();
    session.set(["count", 47]);
    await later(SAVE_AFTER_MS + 5);
    expect(session.read().save).toBe("away");
    session.set(["name", "Typed meanwhile"]);
    at.server.lose = null;
    await later(RETRY_MS + SAVE_AFTER_MS + 10);
    expect(new Set(at.server.asked.slice(0, -1).map(({ key }) => key)).size).toBe(1);
    expect(session.read()).toMatchObject({ save: "saved", conflict: null });
    expect(at.server.head.document).toMatchObject({ count: 47, name: "Typed meanwhile" });
    expect(at.server.revisions).toBe(3);
  });

  it("a server that is away is asked again until it answers", async () => {
    at.server.lose = "request";
    const session = open();
    session.set(["count", 47]);
    await later(SAVE_AFTER_MS + 3 * RETRY_MS);
    expect(at.server.asked.length).toBeGreaterThanOrEqual(3);
    at.server.lose = null;
    await later(RETRY_MS + 5);
    expect(session.read().save).toBe("saved");
    expect(at.server.revisions).toBe(2);
  });

  it("a server that fails is asked again later, and says so meanwhile", async () => {
    at.server.lose = "500";
    const session = open();
    session.set(["count", 47]);
    await later(SAVE_AFTER_MS + 5);
    expect(session.read()).toMatchObject({ save: "failed", error: "The server failed." });
    at.server.lose = null;
    await later(RETRY_FAILED_MS + 5);
    expect(session.read().save).toBe("saved");
  });

  it("signed out, it waits for the person and then goes on", async () => {
    at.server.lose = "401";
    const session = open();
    session.set(["count", 47]);
    await later(SAVE_AFTER_MS + 5);
    expect(session.read().save).toBe("signed out");
    await later(120_000);
    expect(at.server.asked).toHaveLength(1);
    at.server.lose = null;
    session.stay();
    await later(10);
    expect(session.read().save).toBe("saved");
  });

  it("what the server refuses is not sent again until it is changed", async () => {
    at.server.lose = "422";
    const session = open();
    session.set(["count", 47]);
    await later(120_000);
    expect(at.server.asked).toHaveLength(1);
    expect(session.read()).toMatchObject({ save: "refused", error: "No." });
    at.server.lose = null;
    session.set(["count", 46]);
    await later(SAVE_AFTER_MS + 5);
    expect(session.read().save).toBe("saved");
  });
});

describe("leaving", () => {
  it("sends what is typed, at once, without waiting for its evaluation", async () => {
    const session = open();
    session.preview(["name", "Left at once"]);
    session.leave();
    expect(at.server.asked).toHaveLength(1);
    await later(0);
    expect(at.server.head.document.name).toBe("Left at once");
  });

  it("during a save sends the newer edits after it, though nobody evaluates them any more", async () => {
    at.server.latency = 3000;
    const session = open();
    session.set(["count", 47]);
    await later(SAVE_AFTER_MS + 5);
    at.judging = false;
    session.preview(["name", "Second"]);
    session.leave();
    expect(at.server.asked).toHaveLength(1); // one at a time, also on the way out
    await later(20_000);
    expect(at.server.asked).toHaveLength(2);
    expect(at.server.head.document).toMatchObject({ count: 47, name: "Second" });
    expect(at.kept).toBeNull();
  });

  it("during a save leaves the newer edits on the device, and the next page sends them as what they are", async () => {
    at.server.latency = 3000;
    const session = open();
    session.set(["count", 47]);
    await later(SAVE_AFTER_MS + 5);
    session.set(["name", "Second"]);
    session.leave();
    session.rest();
    const left = at.kept as Kept<Paper>;
    expect(left.document).toMatchObject({ count: 47, name: "Second" });
    await later(3000); // the first save arrives, its page is gone
    forget();
    const next = open(at.server.stands(), left);
    await later(10_000);
    expect(next.read()).toMatchObject({ save: "saved", conflict: null });
    expect(at.server.head.document).toMatchObject({ count: 47, name: "Second" });
  });
});

describe("the next page", () => {
  it("asks again for an answer that came too late, with the same key", async () => {
    const session = open();
    session.set(["count", "47"]);
    session.leave();
    session.rest();
    const left = at.kept as Kept<Paper>;
    await later(0); // saved, and nobody is there to hear it
    forget();
    const next = open(at.server.stands(), left);
    await later(2000);
    expect(new Set(at.server.asked.map(({ key }) => key)).size).toBe(1);
    expect(next.read()).toMatchObject({ save: "saved", conflict: null, base: { number: 2 } });
    expect(at.server.revisions).toBe(2);
  });

  it("merges what was left with what was saved since", async () => {
    const session = open();
    session.preview(["name", "Left behind"]);
    const left = at.kept as Kept<Paper>;
    at.server.elsewhere({ count: 44 });
    forget();
    const next = open(at.server.stands(), left);
    await later(2000);
    expect(at.server.head.document).toMatchObject({ name: "Left behind", count: 44 });
    expect(next.read().taken).toEqual({ number: 2, paths: ["count"] });
  });
});

describe("undo", () => {
  it("takes back own edits one by one, and does them again", async () => {
    const session = open();
    session.set(["count", 47]);
    session.set(["name", "Rear"]);
    session.undo();
    expect(session.read().document).toEqual({ ...FIRST, count: 47 });
    session.undo();
    expect(session.read().document).toEqual(FIRST);
    expect(session.read().canUndo).toBe(false);
    session.redo();
    session.redo();
    expect(session.read().document).toEqual({ ...FIRST, count: 47, name: "Rear" });
    await later(SAVE_AFTER_MS + 5);
    expect(at.server.head.document).toEqual({ ...FIRST, count: 47, name: "Rear" });
  });

  it("steps of one field that follow closely are one; after a pause they are two", async () => {
    const session = open();
    for (const count of [49, 50, 51]) session.set(["count", count]);
    await later(ONE_STEP_MS + 1);
    session.set(["count", 52]);
    session.undo();
    expect(session.read().document.count).toBe(51);
    session.undo();
    expect(session.read().document.count).toBe(48);
  });

  it("one command over several fields is one step", () => {
    const session = open();
    session.set(["count", 47], ["tyre.mm", 1927], ["runs", [1, 2, 3]]);
    session.undo();
    expect(session.read().document).toEqual(FIRST);
  });

  it("does not walk into what somebody else changed", async () => {
    const session = open();
    session.set(["count", 47]);
    await later(SAVE_AFTER_MS + 5);
    at.server.elsewhere({ name: "Theirs" });
    session.newer(at.server.stands());
    session.undo();
    expect(session.read().document).toMatchObject({ count: 48, name: "Theirs" });
    session.undo();
    expect(session.read().document.name).toBe("Theirs");
  });

  it("commits what is being typed first", () => {
    const session = open();
    session.preview(["name", "Half"]);
    session.undo();
    expect(session.read().document.name).toBe("Dash");
    session.redo();
    expect(session.read().document.name).toBe("Half");
  });
});

describe("revisions are decisions", () => {
  it("a field stepped on and on amends its revision; another field is another", async () => {
    const session = open();
    for (const count of [49, 50, 51]) {
      session.set(["count", count]);
      await later(2000);
    }
    expect(at.server.revisions).toBe(2);
    expect(session.read().base).toMatchObject({ number: 2, amended: 2 });
    session.set(["name", "Rear"]);
    await later(2000);
    session.set(["count", 52]);
    await later(2000);
    expect(at.server.revisions).toBe(4);
  });

  it("the same field after a long pause is a new one", async () => {
    const session = open();
    session.set(["count", 49]);
    await later(ONE_EDIT_MS + 1);
    session.set(["count", 50]);
    await later(2000);
    expect(at.server.revisions).toBe(3);
  });
});

describe("two at once", () => {
  it("changes of different fields are merged, and said", async () => {
    const session = open();
    at.server.elsewhere({ name: "Theirs" });
    session.set(["count", 47]);
    await later(2000);
    expect(session.read()).toMatchObject({ save: "saved", conflict: null, taken: { number: 2, paths: ["name"] } });
    expect(at.server.head.document).toMatchObject({ count: 47, name: "Theirs" });
  });

  it("of a field that both changed, nothing is overwritten until it is chosen", async () => {
    const session = open();
    at.server.elsewhere({ count: 44, name: "Theirs" });
    session.set(["count", 47]);
    session.set(["tyre.mm", 1927]);
    await later(60_000);
    expect(session.read().save).toBe("conflict");
    expect(session.read().conflict?.clashes).toEqual([{ path: "count", base: 48, mine: 47, theirs: 44 }]);
    expect(at.server.head.document.count).toBe(44);
    session.resolve(new Set());
    await later(2000);
    expect(at.server.head.document).toEqual({
      ...FIRST,
      count: 47,
      name: "Theirs",
      tyre: { text: "205/55R16", mm: 1927 },
    });
  });

  it("theirs can be chosen, and the rest of one's own stays", async () => {
    const session = open();
    at.server.elsewhere({ count: 44 });
    session.set(["count", 47], ["name", "Mine"]);
    await later(2000);
    session.resolve(new Set(["count"]));
    await later(2000);
    expect(at.server.head.document).toMatchObject({ count: 44, name: "Mine" });
    expect(session.read().save).toBe("saved");
  });

  it("a typed number that the server stored as one is not their change", async () => {
    const session = open();
    session.set(["count", "47"]);
    await later(2000);
    at.server.elsewhere({ name: "Theirs" });
    session.set(["count", "46"]);
    await later(2000);
    expect(session.read().conflict).toBeNull();
    expect(at.server.head.document).toMatchObject({ count: 46, name: "Theirs" });
  });

  it("what is being typed stays in its field when somebody else saves", async () => {
    const session = open();
    session.preview(["name", "Half a na"]);
    at.server.elsewhere({ count: 44 });
    session.newer(at.server.stands());
    expect(session.read().document.name).toBe("Half a na");
    session.commit();
    await later(2000);
    expect(at.server.head.document).toMatchObject({ name: "Half a na", count: 44 });
  });

  it("typed over a field that somebody else changed meanwhile is a clash, not an overwriting", async () => {
    const session = open();
    session.preview(["count", 4]);
    at.server.elsewhere({ count: 44 });
    session.newer(at.server.stands());
    session.preview(["count", 46]);
    session.commit();
    await later(60_000);
    expect(session.read().conflict?.clashes).toEqual([{ path: "count", base: 48, mine: 46, theirs: 44 }]);
    expect(at.server.head.document.count).toBe(44);
  });

  it("two pages of one person end with the work of both", async () => {
    const one = open();
    forget();
    const two = open();
    one.set(["count", 47]);
    two.set(["name", "Second page"]);
    await later(10_000);
    expect(at.server.head.document).toMatchObject({ count: 47, name: "Second page" });
    one.newer(at.server.stands());
    two.newer(at.server.stands());
    await later(10_000);
    expect(one.read().document).toEqual(at.server.head.document);
    expect(two.read().document).toEqual(at.server.head.document);
  });

  it("what the server did on a command is an own edit: it can be taken back", async () => {
    const session = open();
    at.server.elsewhere({ count: 44, runs: [9] });
    session.applied(at.server.stands());
    expect(session.read()).toMatchObject({ save: "saved", base: { number: 2 } });
    session.undo();
    await later(2000);
    expect(at.server.head).toMatchObject({ number: 3, document: { count: 48, runs: [1, 2] } });
  });
});
