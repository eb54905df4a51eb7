import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { newer, register } from "./offline";

type Listener = () => void;
const worker = { listeners: new Map<string, Listener>(), skipped: 0, of: "" };

vi.mock("workbox-window", () => ({
  Workbox: class {
    constructor(script: string) {
      worker.of = script;
    }
    addEventListener = (event: string, listener: Listener) => worker.listeners.set(event, listener);
    messageSkipWaiting = () => worker.skipped++;
    register = async () => undefined;
  },
}));

describe("a newer version of the app", () => {
  const reload = vi.fn();
  beforeEach(() => vi.stubGlobal("location", { reload }));
  afterEach(() => vi.unstubAllGlobals());

  it("is said when it waits, is taken when somebody says so, and then the page is loaded once", async () => {
    const said = vi.fn();
    const stop = newer.subscribe(said);
    await register();
    expect(worker.of).toBe("/sw.js");
    expect(newer.read()).toBeUndefined();
    worker.listeners.get("waiting")?.();
    expect(said).toHaveBeenCalledTimes(1);
    expect([worker.skipped, reload.mock.calls.length]).toEqual([0, 0]);
    newer.read()?.();
    expect([worker.skipped, reload.mock.calls.length]).toEqual([1, 0]);
    worker.listeners.get("controlling")?.();
    expect(reload).toHaveBeenCalledTimes(1);
    stop();
  });
});
