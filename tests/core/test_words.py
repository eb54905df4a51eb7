"""Speeds in the core's texts, said in the unit that a page is read in; outside reference: pint."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from dataclasses import asdict, is_dataclass
from pathlib import Path
from typing import Any
from unittest import TestCase

import pint
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from speedchain import evaluate, read_installation
from speedchain.bench.card import Card, card_of
from speedchain.evaluation import EVALUATION
from speedchain.fields import SpeedUnit, said, speeds_in
from speedchain.fields.words import said_formula
from speedchain.sensor.choice import SensorChoices, choose_sensor
from speedchain.vehicle.sheet import SheetSettings, VehicleSheet, vehicle_sheet
from speedchain.views import ImpliedSetting, implied_settings
from speedchain.views.over_speed import OverSpeed, over_speed
from speedchain.views.signal import SignalView, view_signal

DEMO = sorted((Path(__file__).resolve().parents[2] / "demo").glob("[!w]*.json"))
PINT = pint.UnitRegistry()
PINT_UNITS: dict[SpeedUnit, str] = {"mph": "mile/hour", "kn": "nautical_mile/hour"}
EXPONENT = re.compile(r"\de[+-]\d")
NUMBER_IN_KMH = re.compile(r"\d km/h(?! per)")
NUMBER_IN_MM = re.compile(r"\d mm\b")
NOT_SAID = ("name", "readout", "unit", "label", "reference", "compared")
"""What people or makers wrote, and units of numbers that are typed into a machine."""


def texts(value: Any, path: str = "") -> Iterator[tuple[str, str]]:
    """Every text of a dumped result, with its way."""
    if isinstance(value, str):
        yield path, value
    elif isinstance(value, dict):
        for key, inner in value.items():
            yield from texts(inner, f"{path}.{key}")
    elif isinstance(value, list | tuple):
        for inner in value:
            yield from texts(inner, path)


class Said(TestCase):
    @given(st.floats(0.5, 999).map(lambda v: round(v, 1)), st.sampled_from(sorted(PINT_UNITS)))
    def test_a_speed_is_converted_as_pint_does(self, kmh: float, unit: SpeedUnit) -> None:
        with speeds_in(unit):
            shown = said(f"at {kmh:g} km/h")
        number, _, name = shown.removeprefix("at ").partition(" ")
        self.assertEqual(name, unit)
        expected = PINT.Quantity(kmh, "km/hour").to(PINT_UNITS[unit]).magnitude
        digits = max(len(f"{kmh:g}".replace(".", "").lstrip("0")), 3)
        self.assertAlmostEqual(float(number) / expected, 1, delta=0.5 * 10.0 ** (1 - digits) + 1e-9)

    def test_signs_lists_and_ranges(self) -> None:
        for text, expected in (
            ("It is +2.0 km/h off.", "It is +1.24 mph off."),
            ("It is −2.0 km/h off.", "It is −1.24 mph off."),
            ("At 60, 80 and 100 km/h.", "At 37.3, 49.7 and 62.1 mph."),
            ("over from 30 to 60 km/h", "over from 18.6 to 37.3 mph"),
            ("100.0 km/h true", "62.14 mph true"),
            ("99 true km/h", "61.5 true mph"),
            ("0 km/h at rest", "0 mph at rest"),
            ("0.04 km/h", "0.0249 mph"),
        ):
            with self.subTest(text), speeds_in("mph"):
                self.assertEqual(said(text), expected)

    @given(st.floats(0.05, 20_000).map(lambda v: float(f"{v:.4g}")))
    def test_a_length_is_converted_as_pint_does(self, mm: float) -> None:
        with speeds_in("mph"):
            shown = said(f"about {mm:g} mm wide")
        number, _, rest = shown.removeprefix("about ").partition(" ")
        self.assertEqual(rest, "in wide")
        digits = max(len(f"{mm:g}".replace(".", "").lstrip("0")), 3)
        self.assertAlmostEqual(
            float(number) / PINT.Quantity(mm, "mm").to("inch").magnitude, 1, delta=0.5 * 10.0 ** (1 - digits) + 1e-9
        )

    def test_lengths_in_lists_and_those_that_stay(self) -> None:
        for text, expected in (
            ("Set the gap to 0.40 to 0.65 mm.", "Set the gap to 0.0157 to 0.0256 in."),
            ("2154 ± 1.6 mm per turn", "84.80 ± 0.0630 in per turn"),
            ("Enter 2154\u00a0mm, 1.5 mm wide", "Enter 2154 mm, 0.0591 in wide"),
            ("a 622\u00a0mm bead seat", "a 622 mm bead seat"),
            ("10 mm/s", "10 mm/s"),
            ("set to mm", "set to mm"),
        ):
            with self.subTest(text), speeds_in("mph"):
                self.assertEqual(said(text), expected)
        with speeds_in("kn"):
            self.assertEqual(said("1.5 mm at 20 km/h"), "1.5 mm at 10.8 kn")
        with speeds_in("mph"):
            self.assertEqual(said_formula("C = 2 × 30 = 60 mm at 10 km/h"), "C = 2 × 30 = 60 mm at 6.21 mph")

    def test_what_is_no_speed_stays(self) -> None:
        with speeds_in("kn"):
            for text in ("6.918 Hz per km/h", "type 0.145 km/h per Hz", "the display is in km/h", "48 teeth", ""):
                self.assertEqual(said(text), text)

    def test_outside_of_it_texts_are_as_they_were_written(self) -> None:
        with speeds_in("mph"), speeds_in("kn"):
            self.assertEqual(said("18.52 km/h"), "10 kn")
        self.assertEqual(said("18.52 km/h"), "18.52 km/h")


class NothingBypassesIt(TestCase):
    """Every text of every result, for every installation of the demo: no speed in km/h is left in a page in mph,
    and no number is written as 1.08e+04."""

    def left(self, adapter: TypeAdapter[Any], value: Any) -> list[tuple[str, str]]:
        with speeds_in("mph"):
            dumped = json.loads(adapter.dump_json(value))
        written = dict(texts(json.loads(json.dumps(asdict(value), default=str)))) if is_dataclass(value) else {}
        lengths = [
            (path, text)
            for path, text in texts(dumped)
            if NUMBER_IN_MM.search(written.get(path, ""))
            and text == written[path]
            and path.rsplit(".", 1)[-1] != "with_numbers"
        ]
        return lengths + [
            (path, text)
            for path, text in texts(dumped)
            if (NUMBER_IN_KMH.search(text) or EXPONENT.search(text)) and path.rsplit(".", 1)[-1] not in NOT_SAID
        ]

    def test_all_views_of_the_demo(self) -> None:
        self.assertGreater(len(DEMO), 6)
        for file in DEMO:
            installation = read_installation(json.loads(file.read_text("utf-8"))["first"])
            for speed_kmh in (installation.check_speed_kmh, 3.0, 950.0):
                at = installation.model_copy(update={"check_speed_kmh": speed_kmh})
                result = evaluate(at)
                views: list[tuple[Any, Any]] = [
                    (EVALUATION, result),
                    (TypeAdapter(tuple[ImpliedSetting, ...]), implied_settings(at, result)),
                    (TypeAdapter(OverSpeed), over_speed(at, result)),
                    (TypeAdapter(SignalView), view_signal(at, result)),
                    (TypeAdapter(Card), card_of(at, result)),
                    (
                        TypeAdapter(VehicleSheet),
                        vehicle_sheet(((1, at), (2, at)), SheetSettings(track_mm=1500, radius_m=8)),
                    ),
                    (
                        TypeAdapter(SensorChoices),
                        choose_sensor(at.target.kind, at.purpose, result.pulses_per_km, at.needs),
                    ),
                ]
                for adapter, view in views:
                    with self.subTest(f"{file.stem} at {speed_kmh}: {type(view).__name__}"):
                        self.assertEqual(self.left(adapter, view), [])

    def test_figures_and_names_are_not_touched(self) -> None:
        installation = read_installation(json.loads(DEMO[0].read_text("utf-8"))["first"])
        readout = installation.readouts[0].model_copy(update={"name": "Dash to 200 km/h"})
        result = evaluate(installation.model_copy(update={"readouts": (readout, *installation.readouts[1:])}))
        plain = json.loads(EVALUATION.dump_json(result))
        with speeds_in("mph"):
            in_mph = json.loads(EVALUATION.dump_json(result))
        self.assertEqual(in_mph["shown"]["shown_kmh"], plain["shown"]["shown_kmh"])
        self.assertEqual(in_mph["readouts"][0]["name"], "Dash to 200 km/h")
        self.assertNotEqual(in_mph, plain)
