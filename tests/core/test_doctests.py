"""Every example in the core's docstrings runs."""

import doctest
import importlib
import pkgutil
from pathlib import Path
from unittest import TestCase

import speedchain


class Doctests(TestCase):
    def test_every_example_gives_what_it_says(self) -> None:
        attempted = 0
        for module in pkgutil.walk_packages(speedchain.__path__, "speedchain."):
            if module.name.endswith("__main__"):
                continue
            with self.subTest(module.name):
                outcome = doctest.testmod(importlib.import_module(module.name), optionflags=doctest.ELLIPSIS)
                attempted += outcome.attempted
                self.assertEqual(outcome.failed, 0)
        self.assertGreater(attempted, 40)

    def test_the_worked_example(self) -> None:
        page = Path(__file__).resolve().parent.parent.parent / "docs" / "worked-example.md"
        outcome = doctest.testfile(str(page), module_relative=False, optionflags=doctest.ELLIPSIS)
        self.assertGreater(outcome.attempted, 8)
        self.assertEqual(outcome.failed, 0)
