"""Every text that can be translated, as translators get it: `python -m devtools.messages` writes `en.json`.

Texts of the interface are the arguments of `t` (`frontend/messages.mjs` finds them). Texts of the core are templates of
`text_of`, sentences and labels that stand in the sources, and what the document's schema says of its fields.
"""

from __future__ import annotations

import ast
import json
import re
import subprocess
from collections.abc import Iterator
from pathlib import Path

from devtools.steps import FRONTEND, ROOT, npm
from speedchain.document import fields_by_path
from speedchain.glossary import TERMS
from speedchain.stages import FindingCode

LOCALES = FRONTEND / "public" / "locales"
ENGLISH = LOCALES / "en.json"
PACKAGES = ("speedchain", "api", "workshop")
FOR_THE_TERMINAL = ("__main__.py", "command.py", "commands", "migrations")
"""What is read at the terminal, or by nobody."""
TEXT = re.compile(r"(?=.*[^\W\d_]{3}).* .*|[A-Z][a-z]+(?:[-/][a-z]+)?", re.DOTALL)
"""Several parts, one of them a word, or one word with a capital."""
NO_TEXT = re.compile(r"^[@#|<\\^]|^SELECT|^VERSION|\(\?|^[\w.]+=|^%|^[A-Z]{2,}\b.*;")


def interface_texts() -> set[str]:
    """Texts of the front end."""
    command, environment = npm("exec", "--", "node", "messages.mjs")
    done = subprocess.run(command, cwd=FRONTEND, env=environment, capture_output=True, text=True, check=True)
    return set(json.loads(done.stdout))


def core_texts() -> set[str]:
    """Texts of the core and the API."""
    found = {text for field in fields_by_path().values() for text in (field.title, field.hint, field.usual, field.unit)}
    found |= {text for code in FindingCode for text in (code.message, code.remedy)}
    found |= {text for item in TERMS for text in (item.term, item.meaning)}
    for field in fields_by_path().values():
        found |= {text for choice in field.choices for text in (choice.label, choice.hint)}
        found |= {choice.code.replace("_", " ") for choice in field.choices if choice.code.islower()}
    for package in PACKAGES:
        for file in sorted((ROOT / package).rglob("*.py")):
            if not set(file.parts) & set(FOR_THE_TERMINAL):
                found |= set(_texts_of(file))
    return {text for text in found if re.search(r"[^\W\d_]{2}", text)}


def catalogue() -> dict[str, str]:
    """English → English, sorted: the file that a translation starts from."""
    return {text: text for text in sorted(interface_texts() | core_texts())}


def _texts_of(file: Path) -> Iterator[str]:
    tree = ast.parse(file.read_text("utf-8"))
    left = {id(node) for node in _not_shown(tree)}
    for node in ast.walk(tree):
        match node:
            case ast.Call(func=ast.Name(id="text_of" | "joined" | "finding" as function), args=[first, *rest]):
                if isinstance(first, ast.Constant):
                    left.add(id(first))
                    yield f"{{0}}{first.value!s}{{1}}" if function == "joined" else str(first.value)
                for value in (*rest, *(word.value for word in node.keywords)):
                    yield from _said(value)
            case ast.Constant(value=str(text)) if id(node) not in left and TEXT.fullmatch(text):
                if not NO_TEXT.search(text) or "text_of" in text:
                    yield text


def _said(value: ast.expr) -> Iterator[str]:
    """The words that stand for a value: one of two, or a plain one."""
    match value:
        case ast.Constant(value=str(text)):
            yield text
        case ast.IfExp(body=first, orelse=second):
            yield from _said(first)
            yield from _said(second)


def _not_shown(tree: ast.Module) -> Iterator[ast.AST]:
    """Descriptions of the sources, what is raised for programmers, and pieces of texts without a template."""
    for node in ast.walk(tree):
        match node:
            case ast.Expr(value=ast.Constant() as text):
                yield text
            case ast.Raise(exc=ast.Call(func=ast.Name(id="ValueError" | "TypeError" | "KeyError"))) | ast.JoinedStr():
                yield from ast.walk(node)


def main() -> None:
    """Write the list."""
    ENGLISH.write_text(json.dumps(catalogue(), indent=2, ensure_ascii=False) + "\n", "utf-8")


if __name__ == "__main__":
    main()
