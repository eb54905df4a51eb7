"""Every quantity at both ends of its limits: nothing breaks, and every figure stays finite."""

from __future__ import annotations

import contextlib
import itertools
import json
import math
import warnings
from dataclasses import asdict
from pathlib import Path
from typing import Any, get_args
from unittest import TestCase

from speedchain import Installation, evaluate, read_installation
from speedchain.bench.card import card_of
from speedchain.bench.hand_tests import magnet_test, spin_test
from speedchain.bench.moment import Moment, bench_moment
from speedchain.bench.profile import Profile
from speedchain.bench.simulation import Faults
from speedchain.drive.model import DriveKind
from speedchain.evaluation import EVALUATION
from speedchain.fields.errors import DocumentError, InputError
from speedchain.fields.quantities import QuantityKind
from speedchain.placement import Placement
from speedchain.placement.view import view_placement
from speedchain.readout.encodings import EncodingCode
from speedchain.sensor.choice import choose_sensor
from speedchain.target.model import SpokeWheel
from speedchain.target.spokes import plan_spokes
from speedchain.vehicle.sheet import SheetSettings, vehicle_sheet
from speedchain.vehicle.tyre_change import NewTyre, change_tyre
from speedchain.views.over_speed import over_speed
from speedchain.views.signal import view_signal
from speedchain.wheel import compare
from speedchain.wheel.model import WheelMethod
from speedchain.wiring import wiring_sheet
from speedchain.workpieces import WRITERS, ring_outline
from tests.core.test_every_field import RICH, quantities
from tests.installations import document
from tests.sizes import sized

EARLIER = Path(__file__).parent / "version_1"
EXPANDED_PCT = {
    # 3.05·D, and one tooth of 24 one time in six: 5/6·P(|N(0, 1)| < ±) + 1/6·P(|N(4.167, 1)| < ±) = 0.9545
    "dotterel": 4.7704537,
    "grebe": 2 * 2.0,
    "plover": 2 * 1.5,
    "sandpiper": 2 * 1.5,
    "turnstone": 2 * 1.5,
    "whimbrel": 200 * math.sqrt(2**2 + 2 * 1**2) / 4530,  # tape and two marks over three turns
}
"""± of the chain, by hand from the starting values of DOMAIN §2."""


def limits(path: str) -> tuple[float, float] | None:
    """The limits of the quantity at a path of the document, if it is one of the typed kinds."""
    model: Any = Installation
    field = None
    for name in path.split("__"):
        if name.isdigit():
            continue
        field = model.model_fields[name]
        stack = [field.annotation]
        while stack:
            kind = stack.pop()
            stack += list(getattr(kind, "__args__", ()))
            if hasattr(kind, "model_fields"):
                model = kind
            if getattr(kind, "__metadata__", None):
                marks = [mark for mark in kind.__metadata__ if isinstance(mark, QuantityKind)]
                if marks:
                    return marks[0].minimum, marks[0].maximum
    marks = [mark for mark in field.metadata if isinstance(mark, QuantityKind)] if field else []
    return (marks[0].minimum, marks[0].maximum) if marks else None


def finite(value: Any) -> bool:
    if isinstance(value, dict):
        return all(finite(inner) for inner in value.values())
    if isinstance(value, list | tuple):
        return all(finite(inner) for inner in value)
    return not isinstance(value, float) or math.isfinite(value)


class Extremes(TestCase):
    def everything(self, given: dict[str, Any]) -> bool:
        """All that is computed from a document; False when the document itself is refused."""
        try:
            installation = read_installation(given)
        except DocumentError as error:
            self.assertTrue(all(problem.message for problem in error.problems))
            return False
        evaluation = evaluate(installation)
        self.assertTrue(finite(EVALUATION.dump_python(evaluation)))
        self.assertTrue(finite(over_speed(installation, evaluation).shown_kmh))
        comparison = compare(installation.wheel, installation.vehicle_kind, 4.0)
        self.assertTrue(all(math.isfinite(line.deviation) for line in comparison.lines))
        self.assertTrue(math.isfinite(change_tyre(installation, NewTyre(marking="28-622"), (installation,)).change_pct))
        sheet = vehicle_sheet(((1, installation), (2, installation)), SheetSettings(track_mm=1500, radius_m=6))
        self.assertTrue(all(math.isfinite(row.frequency_hz) for row in sheet.rows))
        return True

    def test_every_quantity_at_both_ends(self) -> None:
        tries = [(path, end) for path in quantities(RICH) for end in limits(path) or ()]
        self.assertGreater(len(tries), 100)
        tries = tries[:: sized(1, 5)]  # of two a path: the lower end and the upper end come in turn
        read = 0
        for path, end in tries:
            with self.subTest(f"{path} = {end:g}"):
                read += self.everything(document(RICH, **{path: end}))
        self.assertGreater(read / len(tries), 0.7)

    def test_every_choice_with_every_other(self) -> None:
        codes = [code for code in get_args(EncodingCode) if code != "frequency_table"]
        for method in get_args(WheelMethod):
            for kind in get_args(DriveKind):
                given = document(RICH, wheel__method=method, drive__kind=kind, readouts__0__current_setting=None)
                with self.subTest(f"{method} {kind}"):
                    self.assertTrue(self.everything(given))
        for code in codes:
            with self.subTest(code):
                blank = {
                    "readouts__0__minimum": None,
                    "readouts__0__maximum": None,
                    "readouts__0__current_setting": None,
                }
                self.assertTrue(self.everything(document(RICH, readouts__0__encoding=code, **blank)))

    def test_placement_at_both_ends_before_every_kind_of_target(self) -> None:
        """No warning of NumPy, nothing that is not finite; parts that cannot be made are refused in words."""
        ways = (
            ("toothed_ring", "hall_gear_tooth"),
            ("toothed_ring", "hall_differential"),
            ("magnets", "reed"),
        )
        tries = [
            (path, *way, end)
            for path in quantities(RICH)
            if path.startswith(("target", "sensor", "placement"))
            for way, end in itertools.product(ways, limits(path) or ())
        ]
        seen = 0
        for path, target, sensor, end in tries[:: sized(1, 5)]:  # of six a path: every kind of sensor comes
            given = document(RICH, target__kind=target, sensor__kind=sensor, **{path: end})
            with self.subTest(f"{path} = {end:g}, {sensor}"), warnings.catch_warnings():
                warnings.simplefilter("error")
                seen += self.all_of_placement(given)
        self.assertGreater(seen, sized(150, 30))

    def all_of_placement(self, given: dict[str, Any]) -> bool:
        try:
            installation = read_installation(given)
        except DocumentError:
            return False
        self.assertTrue(
            finite(
                asdict(
                    view_placement(
                        installation.target, installation.sensor, installation.placement or Placement(), 0.05
                    )
                )
            )
        )
        choose_sensor(installation.target.kind, installation.purpose, 25_000, installation.needs)
        with contextlib.suppress(InputError):
            plan_spokes(installation.target.spokes or SpokeWheel(), min(installation.target.count, 3), 90.0)
        with contextlib.suppress(InputError):
            WRITERS["svg"](ring_outline(installation.target, installation.sensor.kind))
        return True

    def test_signal_and_bench_at_both_ends_of_every_kind_of_sensor(self) -> None:
        """Signal, bench, card, tests by hand and sheets: no warning of NumPy, nothing that is not finite."""
        ways = (("toothed_ring", "variable_reluctance"), ("magnets", "reed"), ("toothed_ring", "magnetoresistive"))
        seen = 0
        tries = []
        for path in quantities(RICH):
            if not path.startswith(("signal", "readouts", "target__count", "check_speed", "wheel__roll_out")):
                continue
            tries += [(path, *way, end) for way, end in itertools.product(ways, limits(path) or ())]
        for path, target, sensor, end in tries[:: sized(1, 11)]:  # of six a path: every kind of sensor comes
            given = document(
                    RICH, target__kind=target, sensor__kind=sensor, sensor__facts=None, signal__measured=None,
                    placement=None, **({path: end} if "measured" not in path else {}),
                )  # fmt: skip
            with self.subTest(f"{path} = {end:g}, {sensor}"), warnings.catch_warnings():
                warnings.simplefilter("error")
                seen += self.all_of_the_bench(given)
        self.assertGreater(seen, sized(150, 14))

    def all_of_the_bench(self, given: dict[str, Any]) -> bool:
        try:
            installation = read_installation(given)
        except DocumentError:
            return False
        evaluation = evaluate(installation)
        self.assertTrue(finite(asdict(view_signal(installation, evaluation))))
        for speed in (0.0, 260.0):
            moment = Moment(profile=Profile.swept(speed, speed, 1), now_s=9, faults=Faults(noise=0.2, bounce_ms=0.2))
            self.assertTrue(finite(asdict(bench_moment(installation, evaluation, moment))))
        for readout in range(len(installation.readouts)):
            self.assertTrue(finite(asdict(card_of(installation, evaluation, readout))))
        self.assertTrue(finite(asdict(spin_test(installation, evaluation))))
        self.assertTrue(finite(asdict(magnet_test(installation, evaluation))))
        wiring_sheet(installation, evaluation)
        return True

    def test_documents_of_earlier_days_are_read_as_they_were(self) -> None:
        """Version 1 grows by optional fields only; figures as the first release gave them, kept here; a count that is
        assumed now means ± one whole tooth."""
        first = {
            "dotterel": (44448.42, 44448.0),
            "grebe": (10799.14, 10799.0),
            "plover": (464.01, 2136.0),
            "sandpiper": (1909.86, 524.0),
            "turnstone": (26297.55, 590.0),
            "whimbrel": (662.25, 1510.0),
        }
        for name, (pulses_per_km, number) in first.items():
            with self.subTest(name):
                evaluation = evaluate(read_installation(json.loads((EARLIER / f"{name}.fit.json").read_text("utf-8"))))
                self.assertAlmostEqual(evaluation.pulses_per_km, pulses_per_km, places=2)
                self.assertAlmostEqual(evaluation.chain_expanded_uncertainty_pct, EXPANDED_PCT[name], places=5)
                self.assertEqual(evaluation.readouts[0].in_use.value, number)
