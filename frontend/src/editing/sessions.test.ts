import { QueryClient } from "@tanstack/react-query";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { RevisionOut } from "../api/client";
import { keys } from "../api/hooks";
import { sessionFor } from "./sessions";

const HEAD = { number: 1, amended: 0, document: { target: { count: 48 } } } as unknown as RevisionOut;
const client = new QueryClient();

let id = 0;

/** As the place of the test's installation opens it. */
const opened = () => sessionFor("demo", id, HEAD, client);
const shown = ({ session }: ReturnType<typeof opened>) => session.read().document.target.count;

describe("a session of an installation", () => {
  beforeEach(() => {
    const kept: Record<string, string> = {};
    const local = Object.defineProperties(kept, {
      getItem: { value: (key: string) => kept[key] ?? null },
      setItem: { value: (key: string, text: string) => (kept[key] = text) },
      removeItem: { value: (key: string) => delete kept[key] },
    });
    vi.stubGlobal("window", { localStorage: local });
    id += 1;
    client.setQueryData(keys.session, { username: "", signed_in: false });
  });

  it("is the same when its page comes back with something left to save", () => {
    const first = opened();
    first.stay();
    first.session.set(["target.count", 40]);
    first.leave();
    expect(opened().session).toBe(first.session);
  });

  it("stays known while its page is there, though it was left before and then saved", async () => {
    const first = opened();
    first.stay();
    first.session.set(["target.count", 40]);
    first.leave();
    first.stay();
    await vi.waitFor(() => expect(first.session.read().save).toBe("signed out"));
    first.session.applied({ ...HEAD, number: 2, document: first.session.read().document });
    expect(first.session.read().save).toBe("saved");
    expect(opened().session).toBe(first.session);
    first.leave();
    await vi.waitFor(() => expect(opened().session).not.toBe(first.session));
  });

  it("what was typed into a page on its way out stands in the next at once", () => {
    const first = opened();
    first.stay();
    first.leave();
    first.session.preview(["target.count", "40"]);
    const next = opened();
    expect(next.session).not.toBe(first.session);
    expect(shown(next)).toBe("40");
    next.stay();
    next.leave();
    expect(shown(opened())).toBe("40");
  });
});
