"""Every example in the core's docstrings runs."""

import doctest
import importlib
import pkgutil
from unittest import TestCase

import speedchain


class Doctests(TestCase):
    def test_every_example_gives_what_it_says(self) -> None:
        attempted = 0
        for module in pkgutil.walk_packages(speedchain.__path__, "speedchain."):
            if module.name.endswith("__main__"):
                continue
            with self.subTest(module.name):
                outcome = doctest.testmod(importlib.import_module(module.name))
                attempted += outcome.attempted
                self.assertEqual(outcome.failed, 0)
        self.assertGreater(attempted, 40)
