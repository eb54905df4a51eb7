/** Prints every text of the interface that goes through `t`: `node messages.mjs > public/locales/en.json`. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import ts from "typescript";

const SRC = fileURLToPath(new URL("src", import.meta.url));

const found = new Set();
const plain = (node) =>
  node && ts.isConditionalExpression(node) ? [node.whenTrue, node.whenFalse].flatMap(plain) : [node];
for (const entry of readdirSync(SRC, { recursive: true })) {
  if (!/\.tsx?$/.test(entry) || /\.test\.|schema\.d/.test(entry)) continue;
  const text = readFileSync(join(SRC, entry), "utf8");
  const kind = entry.endsWith("x") ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
  const visit = (node) => {
    if (ts.isCallExpression(node) && node.expression.getText() === "t") {
      for (const message of plain(node.arguments[0])) {
        if (!message || !ts.isStringLiteralLike(message)) throw new Error(`${entry}: t takes a plain text, or one of two`);
        found.add(message.text);
      }
    }
    ts.forEachChild(node, visit);
  };
  visit(ts.createSourceFile(entry, text, ts.ScriptTarget.Latest, true, kind));
}
process.stdout.write(`${JSON.stringify(Object.fromEntries([...found].sort().map((text) => [text, text])), null, 2)}\n`);
