import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Away, Refusal } from "../api/client";
import { type Entry, hasCome, type JobSheet, Queue, type Send, type Store, type Waiting } from "./queue";

const entry = (key: string, step = "lift") =>
  ({ key, step, what: "done", by: "mechanic", at: "2026-05-02T10:00:00Z" }) as unknown as Entry;
const sheet = { id: 7 } as unknown as JobSheet;

function store(full = false): Store & { map: Map<string, unknown> } {
  const map = new Map<string, unknown>();
  return {
    map,
    get: async <T>(key: string) => map.get(key) as T | undefined,
    set: async (key, value) => {
      if (full) throw new DOMException("full", "QuotaExceededError");
      map.set(key, value);
    },
    del: async (key) => void map.delete(key),
    keys: async () => [...map.keys()],
  };
}

/** A server that counts each key once, and loses lines and answers as it is asked to. */
function server(lines: ("ok" | "lost" | "answer lost" | "refused")[] = []) {
  const seen: string[] = [];
  const send: Send = async (item) => {
    const how = lines.shift() ?? "ok";
    if (how === "lost") throw new Away();
    const key = "entry" in item ? item.entry.key : item.key;
    if (how === "refused") throw new Refusal(422, "no", []);
    if (!seen.includes(key)) seen.push(key);
    if (how === "answer lost") throw new Away();
    return sheet;
  };
  return { seen, send };
}

describe("the queue of a sheet", () => {
  it("in order, each once, whatever happens to the line", async () => {
    const ways = fc.array(fc.constantFrom("ok" as const, "lost" as const, "answer lost" as const), { maxLength: 20 });
    await fc.assert(
      fc.asyncProperty(ways, fc.integer({ min: 1, max: 8 }), async (lines, count) => {
        const { seen, send } = server([...lines]);
        const queue = new Queue("a", store(), send, () => 1000);
        const wanted = Array.from({ length: count }, (_, at) => `key-${at}-entry`);
        for (const key of wanted) await queue.add({ sheet: 7, entry: entry(key) });
        for (let tries = 0; tries < 40 && (await queue.waiting()).length > 0; tries += 1)
          await queue.flush().catch((error) => expect(error).toBeInstanceOf(Away));
        expect(seen).toEqual(wanted);
      }),
    );
  });

  it("a clock that is set back does not change the order, after a reload either", async () => {
    const kept = store();
    const clock = [5000, 10, 20];
    const first = new Queue("a", kept, server().send, () => clock.shift() ?? 0);
    await first.add({ sheet: 7, entry: entry("key-first-1") });
    await first.add({ sheet: 7, entry: entry("key-second-2") });
    const { seen, send } = server();
    const again = new Queue("a", kept, send, () => 1);
    await again.add({ sheet: 7, entry: entry("key-third-3") });
    await again.flush();
    expect(seen).toEqual(["key-first-1", "key-second-2", "key-third-3"]);
  });

  it("what is refused stays with its reason, and the rest goes on", async () => {
    const { seen, send } = server(["refused", "ok"]);
    const queue = new Queue("a", store(), send);
    await queue.add({ sheet: 7, entry: entry("key-wrong-1") });
    await queue.add({ sheet: 7, entry: entry("key-right-2") });
    await queue.flush();
    const left = await queue.waiting(7);
    expect(left.map((item) => item.refused)).toEqual(["no"]);
    expect(seen).toEqual(["key-right-2"]);
    if (left[0]) await queue.drop(left[0]);
    expect(await queue.waiting()).toEqual([]);
  });

  it("an answer that says nothing of what was sent is tried again and asks nobody", async () => {
    for (const status of [401, 408, 425, 429, 500, 502, 503, 507]) {
      let tries = 0;
      const queue = new Queue("a", store(), async () => {
        tries += 1;
        if (tries === 1) throw new Refusal(status, "not now", []);
        return sheet;
      });
      await queue.add({ sheet: 7, entry: entry("key-1-abcdef") });
      await expect(queue.flush(), String(status)).rejects.toBeInstanceOf(Away);
      expect((await queue.waiting()).map((item) => item.refused)).toEqual([undefined]);
      await queue.flush();
      expect([status, tries, await queue.waiting()]).toEqual([status, 2, []]);
    }
  });

  it("a refusal stays with its reason", async () => {
    for (const status of [400, 403, 404, 409, 413, 415, 422]) {
      const queue = new Queue("a", store(), async () => {
        throw new Refusal(status, "no", []);
      });
      await queue.add({ sheet: 7, entry: entry("key-1-abcdef") });
      await queue.flush();
      expect([status, (await queue.waiting()).map((item) => item.refused)]).toEqual([status, ["no"]]);
    }
  });

  it("what was refused is sent again when a person says so", async () => {
    const { seen, send } = server(["refused", "ok"]);
    const queue = new Queue("a", store(), send);
    await queue.add({ sheet: 7, entry: entry("key-1-abcdef") });
    await queue.flush();
    const [item] = await queue.waiting();
    if (item) await queue.again(item);
    await queue.flush();
    expect([seen, await queue.waiting()]).toEqual([["key-1-abcdef"], []]);
  });

  it("signed out, the sheets are forgotten and what is not sent stays", async () => {
    const kept = store();
    const queue = new Queue("a", kept, server().send);
    await queue.keepSheet(sheet);
    await queue.add({ sheet: 7, entry: entry("key-1-abcdef") });
    await queue.forgetSheets();
    expect(await queue.keptSheet(7)).toBe(undefined);
    expect((await queue.waiting()).length).toBe(1);
  });

  it("a full device is said, not hidden", async () => {
    const queue = new Queue("a", store(true), server().send);
    await expect(queue.add({ sheet: 7, entry: entry("key-1-abcdef") })).rejects.toThrow("full");
  });

  it("another account of the same device sends nothing of the first", async () => {
    const kept = store();
    await new Queue("a", kept, server().send).add({ sheet: 7, entry: entry("key-1-abcdef") });
    const { seen, send } = server();
    await new Queue("b", kept, send).flush();
    expect(seen).toEqual([]);
    expect(await new Queue("b", kept, send).waiting()).toEqual([]);
  });

  it("what is added while something is sent goes with it", async () => {
    const { seen, send } = server();
    const queue = new Queue("a", store(), async (item) => {
      if (seen.length === 0) await queue.add({ sheet: 7, entry: entry("key-2-abcdef") });
      return send(item);
    });
    await queue.add({ sheet: 7, entry: entry("key-1-abcdef") });
    await queue.flush();
    expect(seen).toEqual(["key-1-abcdef", "key-2-abcdef"]);
  });

  it("something done has come once the sheet has its key, as an entry or a photo", () => {
    const done = { sheet: 7, order: 1, entry: entry("key-1-abcdef") } as Waiting;
    const photo = { sheet: 7, order: 2, photo: new Blob(), step: "lift", key: "key-2-abcdef" } as Waiting;
    const has = { keys: ["key-1-abcdef"], photos: [{ key: "key-3-abcdef" }] } as unknown as JobSheet;
    expect([hasCome(done, undefined), hasCome(done, has), hasCome(photo, has)]).toEqual([false, true, false]);
    expect(hasCome({ ...photo, key: "key-3-abcdef" } as Waiting, has)).toBe(true);
  });

  it("two flushes at once send once", async () => {
    const { seen, send } = server();
    const queue = new Queue("a", store(), send);
    await queue.add({ sheet: 7, entry: entry("key-1-abcdef") });
    await Promise.all([queue.flush(), queue.flush()]);
    expect(seen).toEqual(["key-1-abcdef"]);
    expect(await queue.keptSheet(7)).toEqual(sheet);
  });
});
