import { describe, expect, it } from "vitest";
import { at, FIRST, HEAD, judge, later, open } from "./harness";
import { RETRY_MS, SAVE_AFTER_MS } from "./session";

describe("rules that stand in few places", () => {
  it("after an edit there is nothing to do again", () => {
    const session = open();
    session.set(["count", 47]);
    session.undo();
    expect(session.read().canRedo).toBe(true);
    session.set(["name", "Rear"]);
    expect(session.read().canRedo).toBe(false);
    session.redo();
    expect(session.read().document).toEqual({ ...FIRST, name: "Rear" });
  });

  it("nothing is sent before its evaluation says that it can be saved", async () => {
    at.judging = false;
    const session = open();
    session.set(["count", 47]);
    await later(60_000);
    expect(at.server.asked).toHaveLength(0);
    expect(at.kept?.document.count).toBe(47);
    at.judging = true;
    judge(session);
    await later(SAVE_AFTER_MS + 5);
    expect(at.server.asked).toHaveLength(1);
  });

  it("nothing is sent that its evaluation refuses, even when the page is left", async () => {
    const session = open();
    session.set(["count", "a few"]);
    session.leave();
    await later(60_000);
    expect(at.server.asked).toHaveLength(0);
  });

  it("an edit of the same field while the first flies amends its revision: one decision, one edit key", async () => {
    at.server.latency = null;
    const session = open();
    session.set(["count", 47]);
    await later(SAVE_AFTER_MS + 5);
    session.set(["count", 48.5]);
    at.server.waiting.shift()?.();
    await later(SAVE_AFTER_MS + 5);
    at.server.waiting.shift()?.();
    await later(5);
    const [first, second] = at.server.asked;
    expect(second?.editKey).toBe(first?.editKey);
    expect(second?.key).not.toBe(first?.key);
    expect(at.server.revisions).toBe(2);
    expect(session.read().save).toBe("saved");
  });

  it("an edit of another field while the first flies is a revision of its own", async () => {
    at.server.latency = null;
    const session = open();
    session.set(["count", 47]);
    await later(SAVE_AFTER_MS + 5);
    session.set(["name", "Rear"]);
    at.server.waiting.shift()?.();
    await later(SAVE_AFTER_MS + 5);
    at.server.waiting.shift()?.();
    await later(5);
    const [first, second] = at.server.asked;
    expect(second?.editKey).not.toBe(first?.editKey);
    expect(at.server.revisions).toBe(3);
  });

  it("edits of two fields in one save are a revision of their own, though one of them goes on with the last", async () => {
    const session = open();
    session.set(["count", 47]);
    await later(SAVE_AFTER_MS + 5);
    session.set(["count", 48.5]);
    session.set(["name", "Rear"]);
    await later(SAVE_AFTER_MS + 5);
    expect(at.server.asked).toHaveLength(2);
    expect(at.server.asked[1]?.editKey).not.toBe(at.server.asked[0]?.editKey);
    expect(at.server.revisions).toBe(HEAD.number + 2);
  });

  it("what is lost on the way is sent again after two and a half seconds", async () => {
    at.server.lose = "request";
    const session = open();
    session.set(["count", 47]);
    await later(SAVE_AFTER_MS + 5);
    expect(RETRY_MS).toBe(2500);
    at.server.lose = null;
    await later(2400);
    expect(at.server.asked).toHaveLength(1);
    await later(200);
    expect(at.server.asked).toHaveLength(2);
    expect(session.read().save).toBe("saved");
  });
});
