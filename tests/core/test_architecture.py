"""The shape of the core: what the contracts of import-linter cannot say."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path
from unittest import TestCase

import speedchain

CORE = Path(speedchain.__file__).parent
FILES = sorted(path for path in CORE.rglob("*.py"))
PACKAGES = {path.parent.name for path in CORE.glob("*/__init__.py")}
STAGES = ("wheel", "drive", "target", "sensor", "placement", "signal", "readout")


def trees() -> Iterator[tuple[str, ast.Module]]:
    for path in FILES:
        yield str(path.relative_to(CORE)), ast.parse(path.read_text("utf-8"))


class Shape(TestCase):
    def test_packages_are_used_by_their_front_door(self) -> None:
        for name, tree in trees():
            own = name.split("/")[0]
            for node in ast.walk(tree):
                if isinstance(node, ast.ImportFrom) and node.module and node.module.startswith("speedchain."):
                    package, *inside = node.module.split(".")[1:]
                    if package in PACKAGES and package != own:
                        self.assertFalse(inside, f"{name}:{node.lineno} imports from inside speedchain.{package}")

    def test_every_stage_has_the_same_four(self) -> None:
        for stage in STAGES:
            for module in ("model", "evaluate", "rules"):
                self.assertTrue((CORE / stage / f"{module}.py").exists(), f"{stage}/{module}.py")

    def test_few_modules_on_top_and_no_hidden_imports(self) -> None:
        top = [path for path in CORE.glob("*.py") if path.name not in ("__init__.py", "__main__.py")]
        self.assertLessEqual(len(top), 10)
        for name, tree in trees():
            self.assertNotIn("TYPE_CHECKING", ast.unparse(tree), name)

    def test_at_most_four_arguments_by_position(self) -> None:
        for name, tree in trees():
            for node in ast.walk(tree):
                if isinstance(node, ast.FunctionDef) and node.name != "__new__":
                    given = [one.arg for one in node.args.args if one.arg not in ("self", "cls")]
                    self.assertLessEqual(len(given), 4, f"{name}: {node.name}")

    def test_nothing_is_appended_to_findings_handed_in(self) -> None:
        for name, tree in trees():
            for node in ast.walk(tree):
                if isinstance(node, ast.FunctionDef):
                    for argument in (*node.args.args, *node.args.kwonlyargs):
                        annotation = ast.unparse(argument.annotation) if argument.annotation else ""
                        self.assertNotEqual(annotation, "list[Finding]", f"{name}: {node.name}")

    def test_one_place_decides_what_the_law_asks(self) -> None:
        """Who it applies to, what may be shown and which way to round are asked of `regulations`, which nobody does
        again."""
        own = ("regulations/", "fields/purposes.py", "fields/__init__.py")
        for name, tree in trees():
            if not name.startswith(own):
                names = {node.id for node in ast.walk(tree) if isinstance(node, ast.Name)}
                names |= {node.attr for node in ast.walk(tree) if isinstance(node, ast.Attribute)}
                self.assertFalse(names & {"under_kmh", "never_under", "ROAD_PURPOSES", "BANDS"}, name)

    def test_every_public_function_and_class_says_what_it_is(self) -> None:
        for name, tree in trees():
            for node in ast.walk(tree):
                public = isinstance(node, (ast.FunctionDef, ast.ClassDef)) and not node.name.startswith("_")
                if public and node in tree.body:
                    self.assertTrue(ast.get_docstring(node), f"{name}: {node.name}")
