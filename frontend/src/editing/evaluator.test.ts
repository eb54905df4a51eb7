import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Away, type Evaluated, type Installation, Refusal } from "../api/client";
import { Evaluator, RETRY_MS } from "./evaluator";

const named = (name: string) => ({ name }) as unknown as Installation;
const answer = (name: string) => ({ document: { name }, result: { fixed: [1, 2], of: name } }) as unknown as Evaluated;
const refused = new Refusal(422, "No.", [
  { path: "name", message: "No.", remedy: "", limit: "", value: "", missing: false },
]);

/** A server that takes a while, and keeps what it was asked. */
function slow(latency_ms: number, fail: (name: string) => Error | undefined = () => undefined) {
  const asked: string[] = [];
  let most = 0;
  let now = 0;
  const ask = vi.fn(async (document: Installation, signal: AbortSignal) => {
    asked.push(document.name);
    most = Math.max(most, ++now);
    await new Promise((resolve) => setTimeout(resolve, latency_ms));
    now--;
    if (signal.aborted) throw new DOMException("aborted", "AbortError");
    const error = fail(document.name);
    if (error) throw error;
    return answer(document.name);
  });
  return { ask, asked, most: () => most };
}

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("window", globalThis);
});
afterEach(() => vi.useRealTimers());

describe("evaluator", () => {
  it("asks at once, one at a time, and next about the newest document", async () => {
    const server = slow(200);
    const evaluator = new Evaluator(server.ask);
    for (let at = 0; at < 40; at++) {
      evaluator.want(named(`drag ${at}`));
      await vi.advanceTimersByTimeAsync(25);
    }
    await vi.runAllTimersAsync();
    expect(server.most()).toBe(1);
    expect(server.asked[0]).toBe("drag 0");
    expect(server.asked.at(-1)).toBe("drag 39");
    expect(server.asked.length).toBeLessThanOrEqual(8);
    expect(evaluator.read().of?.name).toBe("drag 39");
  });

  it("moves its figures all through a drag on a slow line", async () => {
    const server = slow(200);
    const evaluator = new Evaluator(server.ask);
    const shown = new Set<string>();
    evaluator.subscribe(() => shown.add(evaluator.read().of?.name ?? ""));
    for (let at = 0; at < 80; at++) {
      evaluator.want(named(`drag ${at}`));
      await vi.advanceTimersByTimeAsync(25);
    }
    expect(shown.size).toBeGreaterThanOrEqual(8);
  });

  it("does not ask again about a document it knows", async () => {
    const server = slow(10);
    const evaluator = new Evaluator(server.ask);
    const [one, two] = [named("one"), named("two")];
    for (const document of [one, two, one, two]) {
      evaluator.want(document);
      await vi.runAllTimersAsync();
    }
    expect(server.asked).toEqual(["one", "two"]);
    expect(evaluator.read().of).toBe(two);
  });

  it("keeps what did not change as the same object", async () => {
    const server = slow(10);
    const evaluator = new Evaluator(server.ask);
    evaluator.want(named("one"));
    await vi.runAllTimersAsync();
    const before = evaluator.read().evaluated?.result as unknown as { fixed: number[] };
    evaluator.want(named("two"));
    await vi.runAllTimersAsync();
    const after = evaluator.read().evaluated?.result as unknown as { fixed: number[] };
    expect(after).not.toBe(before);
    expect(after.fixed).toBe(before.fixed);
  });

  it("keeps the last good figures when a document is refused, and says what is wrong", async () => {
    const server = slow(10, (name) => (name === "bad" ? refused : undefined));
    const evaluator = new Evaluator(server.ask);
    evaluator.want(named("good"));
    await vi.runAllTimersAsync();
    evaluator.want(named("bad"));
    await vi.runAllTimersAsync();
    expect(evaluator.read().evaluated?.document.name).toBe("good");
    expect(evaluator.read().problems[0]?.path).toBe("name");
    expect(evaluator.read().of?.name).toBe("bad");
  });

  it("has the figures of the saved document when it begins with one that is refused", async () => {
    const server = slow(10, (name) => (name === "bad" ? refused : undefined));
    const evaluator = new Evaluator(server.ask, named("saved"));
    evaluator.want(named("bad"));
    await vi.runAllTimersAsync();
    expect(evaluator.read().evaluated?.document.name).toBe("saved");
    expect(evaluator.read().problems).toHaveLength(1);
  });

  it("goes on asking while the server is away", async () => {
    let tries = 0;
    const server = slow(10, () => (++tries < 3 ? new Away() : undefined));
    const evaluator = new Evaluator(server.ask);
    evaluator.want(named("one"));
    await vi.advanceTimersByTimeAsync(50);
    expect(evaluator.read().away).toBe(true);
    await vi.advanceTimersByTimeAsync(3 * RETRY_MS);
    expect(evaluator.read()).toMatchObject({ away: false, of: { name: "one" } });
  });

  it("asks again where the server fails, calls no field wrong, and asks less and less often", async () => {
    let tries = 0;
    const broken = new Refusal(500, "It failed.");
    const server = slow(10, (name) => (name === "odd" && ++tries < 4 ? broken : undefined));
    const evaluator = new Evaluator(server.ask);
    evaluator.want(named("one"));
    await vi.runAllTimersAsync();
    const odd = named("odd");
    evaluator.want(odd);
    await vi.advanceTimersByTimeAsync(50);
    expect(evaluator.read()).toMatchObject({ problems: [], failed: odd, away: false, of: { name: "one" } });
    await vi.advanceTimersByTimeAsync(RETRY_MS * 1.2);
    expect(tries).toBe(2);
    await vi.advanceTimersByTimeAsync(RETRY_MS * 1.2);
    expect(tries).toBe(2);
    await vi.runAllTimersAsync();
    expect(evaluator.read()).toMatchObject({ problems: [], of: { name: "odd" } });
    expect(evaluator.read().failed).toBeUndefined();
  });

  it("says nothing after it was stopped, and can be taken up again", async () => {
    const server = slow(100);
    const evaluator = new Evaluator(server.ask);
    evaluator.want(named("one"));
    await vi.advanceTimersByTimeAsync(50);
    evaluator.stop();
    await vi.runAllTimersAsync();
    expect(evaluator.read().of).toBeUndefined();
    evaluator.want(named("two"));
    await vi.runAllTimersAsync();
    expect(evaluator.read().of?.name).toBe("two");
  });
});
