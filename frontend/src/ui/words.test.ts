import { afterEach, describe, expect, it, vi } from "vitest";
import { figure, fixed, formatIn, signed } from "./format";
import { speak, t } from "./words";

const file = (body: unknown, ok = true) => vi.fn(async () => ({ ok, json: async () => body }));

describe("words", () => {
  afterEach(() => {
    vi.unstubAllGlobals();
    formatIn("en");
  });

  it("puts values into a text", () => {
    expect(t("Revision {0} of {1}", 3, "the wheel's {log}")).toBe("Revision 3 of the wheel's {log}");
    expect(t("mean {0}{1}{2}. {3}", 12, false, undefined, 0)).toBe("mean 12. 0");
    expect(t("The wheel's spokes")).toBe("The wheel's spokes");
    expect(t("100 % (sure)")).toBe("100 % (sure)");
  });

  it("stays English where a language cannot be had", async () => {
    vi.stubGlobal("fetch", file({}, false));
    await speak("xx");
    expect(t("Save")).toBe("Save");
  });

  it("takes another language from its file, values in its order, numbers with its comma", async () => {
    vi.stubGlobal("fetch", file({ Save: "Speichern", "{0} of {1}": "von {1} sind es {0}" }));
    vi.stubGlobal("document", { documentElement: { lang: "en" } });
    await speak("de");
    expect(t("Save")).toBe("Speichern");
    expect(t("{0} of {1}", 2, 5)).toBe("von 5 sind es 2");
    expect(t("Not translated yet")).toBe("Not translated yet");
    expect([fixed(2.5, 1), figure(1234.5), signed(-0.25)]).toEqual(["2,5", "1234,5", "−0,25"]);
    expect(document.documentElement.lang).toBe("de");
  });
});
