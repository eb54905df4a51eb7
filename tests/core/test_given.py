"""What people gave (names, notes, markings) comes through every view as it was written, in every unit and another
language."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Iterator, Mapping
from typing import Any
from unittest import TestCase

from pydantic import TypeAdapter

from speedchain import Evaluation, Installation, evaluate
from speedchain.advice import Guide, guides_of
from speedchain.bench.card import Card, card_of
from speedchain.faults import FaultView, Seen, view_fault
from speedchain.fields import ENGLISH, InputError, Language, Words, speeds_in, spoken_in
from speedchain.jobs import JobSheet, draw_up, offered
from speedchain.views import ImpliedSetting, implied_settings
from speedchain.views.over_speed import OverSpeed, over_speed
from speedchain.views.signal import SignalView, view_signal
from speedchain.wiring import WiringSheet, wiring_sheet
from tests.core.test_words import texts
from tests.generated import MARKINGS, documents
from tests.installations import CAR, installation
from tests.sizes import sized

SPOILED: Mapping[str, tuple[str, ...]] = {
    "Gauge 120 km/h": ("74.6 mph", "74,6 mph", "64.8 kn"),
    "Gap 0.25 mm": ("0.0098", "0,0098", "0,25 mm"),
    "Dash": ("<Dash>",),
    "front": ("<front>",),
    "Logger v1.5": ("v1,5",),
    "Bus -2": ("Bus −2",),
    "Batch 7e+03": ("Batch 7000",),
    "26x2.1": ("26x2,1",),
    "29.5x10.5-15": ("29,5x10", "x10,5-15", "10.5−15"),
    "10x4.50-5": ("10x4,50", "4.50−5"),
    "{0} of {name}": ("{{", "<{0} of {name}>"),
}
"""Names and markings, and what became of them where a finished sentence was read: units, language, decimals, signs,
exponents, braces."""


NAMES = tuple([name for name in SPOILED if name not in MARKINGS])


class AnyText(dict[str, str]):
    """A language that has a word for everything."""

    def get(self, text: str, default: Any = None) -> str:
        """The text, marked, unless it is nothing but places for values."""
        return f"<{text}>" if re.search("[a-z]", re.sub(r"\{.*?\}", "", text)) else text


PSEUDO = Language(code="xx", translations=AnyText(), decimal=",")


def views(installation: Installation, evaluation: Evaluation) -> Iterator[tuple[Any, Any]]:
    """What is handed over of an installation, each with its type; what the document refuses is left out."""
    yield Evaluation, evaluation
    yield OverSpeed, over_speed(installation, evaluation)
    yield SignalView, view_signal(installation, evaluation)
    yield WiringSheet, wiring_sheet(installation, evaluation)
    yield tuple[ImpliedSetting, ...], implied_settings(installation, evaluation)
    yield tuple[Guide, ...], guides_of(installation)
    yield FaultView, view_fault(installation, evaluation, Seen(symptoms=("nothing",), answers=()))
    yield Card, card_of(installation, evaluation)
    for offer in offered(installation, evaluation):
        yield JobSheet, draw_up(installation, evaluation, offer.template)


class GivenComesThrough(TestCase):
    def test_in_every_view_unit_and_language(self) -> None:
        wrong, seen = self.spoiled_in(documents(sized(24, 8), seed=28, wild=0.0, names=NAMES))
        self.assertEqual(wrong, {})
        self.assertGreater(min(seen[name] for name in NAMES), sized(100, 30), seen)

    def test_a_marking_is_written_as_it_is_on_the_tyre(self) -> None:
        markings = [name for name in SPOILED if name not in NAMES]
        wheels = [{"method": "marking", "marking": {"text": marking}} for marking in markings]
        wrong, seen = self.spoiled_in(installation(CAR, name="Avocet", wheel=wheel) for wheel in wheels)
        self.assertEqual(wrong, {})
        self.assertGreater(min(seen[name] for name in markings), 10, seen)

    @staticmethod
    def spoiled_in(drawn: Iterable[Installation]) -> tuple[dict[str, str], dict[str, int]]:
        """Texts with a name that was changed, by where they stand; and how often each name was met."""
        seen = dict.fromkeys(SPOILED, 0)
        wrong: dict[str, str] = {}
        for one in drawn:
            try:
                found = list(views(one, evaluate(one)))
            except InputError as refused:
                found = [(tuple[Words, ...], tuple([item.message for item in refused.problems]))]
            for kind, view in found:
                adapter = TypeAdapter(kind)
                for speed, length, language in (("mph", "in", ENGLISH), ("kn", "mm", ENGLISH), ("mph", "in", PSEUDO)):
                    with speeds_in(speed, length), spoken_in(language):
                        handed = list(texts(json.loads(adapter.dump_json(view))))
                    for name, spoiled in SPOILED.items():
                        seen[name] += sum(name in text for _, text in handed)
                        wrong |= {path: text for path, text in handed if any(one in text for one in spoiled)}
        return wrong, seen
