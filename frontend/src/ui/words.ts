import { i18n, type Messages } from "@lingui/core";
import { keepText, readKept } from "./device";
import { formatIn } from "./format";

/** English, as it stands in the sources. Any other language is a file, `/locales/<language>.json`: English → translated. */
const SOURCE = "en";
const KEPT_LANGUAGE = "wheelometron.language";

/** English texts hold values and no more, so they need no parser; that of the message format comes with a translation. */
const plain = (message: string): Messages[string] =>
  message.split(/\{(\d+)\}/).map((part, at) => (at % 2 ? [part] : part));

let compile = plain;
let translated: Record<string, string> = {};
const ready: Messages = {};
i18n.loadAndActivate({ locale: SOURCE, messages: ready });

/** The code of the language in use. */
export const language = () => i18n.locale;

/** Load the language that was chosen on this device; English stays where its file cannot be had. */
export async function speak(language = readKept("local", KEPT_LANGUAGE) ?? SOURCE) {
  if (language === SOURCE) return;
  try {
    const [answer, parser] = await Promise.all([
      fetch(`/locales/${encodeURIComponent(language)}.json`),
      import("@lingui/message-utils/compileMessage"),
    ]);
    if (!answer.ok) return;
    translated = await answer.json();
    compile = parser.compileMessage;
  } catch {
    return;
  }
  for (const message of Object.keys(ready)) delete ready[message];
  i18n.loadAndActivate({ locale: language, messages: ready });
  formatIn(language);
  document.documentElement.lang = language;
}

/** What React would show of a value: nothing of false, null and undefined. */
const seen = (value: unknown) => (value === false || value === null || value === undefined ? "" : value);

/** What there is of several parts, with commas between them. */
export const listed = (...parts: unknown[]) =>
  parts
    .map(seen)
    .filter((part) => part !== "")
    .join(", ");

/** Choose a language for this device; the page is read anew in it. */
export function choose(code: string) {
  keepText("local", KEPT_LANGUAGE, code);
  location.reload();
}

/** What a language is called in itself. */
export const named = (code: string) => new Intl.DisplayNames([code], { type: "language" }).of(code) ?? code;

/** A text of the interface; `{0}`, `{1}` … stand for the values. */
export function t(message: string, ...values: unknown[]): string {
  ready[message] ??= compile(translated[message] ?? message);
  return i18n._(message, { ...values.map(seen) });
}
