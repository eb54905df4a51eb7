import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { patiently } from "./lazily";

describe("patiently", () => {
  beforeEach(() => {
    vi.useFakeTimers();
    vi.stubGlobal("window", globalThis);
    vi.stubGlobal("fetch", async () => ({ ok: false }));
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("loads once where the server answers", async () => {
    const load = vi.fn(async () => "part");
    await expect(patiently(load)).resolves.toBe("part");
    expect(load).toHaveBeenCalledTimes(1);
  });

  it("goes on while the server is away, and is there when it is back", async () => {
    let tries = 0;
    const load = vi.fn(async () => {
      if (++tries < 5) throw new TypeError("Failed to fetch");
      return "part";
    });
    const found = patiently(load);
    await vi.advanceTimersByTimeAsync(10_000);
    await expect(found).resolves.toBe("part");
    expect(load).toHaveBeenCalledTimes(5);
  });

  it("asks for another way when the server is back and the part still fails", async () => {
    let away = true;
    vi.stubGlobal("fetch", async () => ({ ok: !away }));
    const load = async () => {
      throw new TypeError("Failed to fetch");
    };
    const stuck = vi.fn(() => false);
    const found = patiently(load, stuck);
    const failed = expect(found).rejects.toThrow("Failed to fetch");
    await vi.advanceTimersByTimeAsync(10_000);
    expect(stuck).not.toHaveBeenCalled();
    away = false;
    await vi.advanceTimersByTimeAsync(3000);
    await failed;
    expect(stuck).toHaveBeenCalledTimes(1);
  });

  it("says at last that there is no such part", async () => {
    const found = patiently(async () => {
      throw new Error("gone");
    });
    const failed = expect(found).rejects.toThrow("gone");
    await vi.runAllTimersAsync();
    await failed;
  });
});
