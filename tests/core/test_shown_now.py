"""What a display really shows with a blocked or failed stage: never the figure that its setting would give."""

from __future__ import annotations

from unittest import TestCase

from speedchain import Installation, evaluate
from speedchain.bench import Moment, Profile, ShownNow, bench_moment, shown_now
from speedchain.bench.shown_now import AS_SHOWN, CANNOT_SAY
from speedchain.jobs import numbers_of
from speedchain.stages.findings import FindingCode as Code
from speedchain.vehicle.sheet import SheetSettings, vehicle_sheet
from tests.core.test_findings import EITHER_SIDE
from tests.installations import CYCLE, installation

NOTHING = {
    Code.NOT_FERROUS, Code.BLIND, Code.POLE, Code.REED_END, Code.NO_WINDOW_OFF_TARGET, Code.NO_WINDOW_MAGNET,
    Code.CLOCKED_WRONG, Code.NO_PULL_UP, Code.NO_LOAD, Code.LOW_LEVEL, Code.HIGH_LEVEL, Code.SHARED_LOADED,
    Code.MAKER_DISAGREES,
}  # fmt: skip
"""The sensor gives no signal, or it does not reach the reader; the case of the maker's range is far too weak, the
shared one has no pull-up."""
UNSTEADY = {Code.DOUBLE, Code.TOO_WEAK, Code.TOO_SLOW}
AT_TOP_SPEED = {Code.SENSOR_TOO_FAST, Code.TOO_FAST, Code.SHORT_PULSE, Code.VR_SLOW}
"""These block at another speed: at the check speed the figure stands."""


def case(code: Code) -> Installation:
    base, beyond, _ = EITHER_SIDE[code]
    return installation(base, **beyond)


def now(made: Installation) -> ShownNow:
    return shown_now(made, evaluate(made))[0]


class EveryBlockingFinding(TestCase):
    def test_each_has_what_comes_of_it(self) -> None:
        blocking = {code for code in Code if "blocking" in code.severities}
        self.assertEqual(blocking - NOTHING - UNSTEADY - AT_TOP_SPEED - CANNOT_SAY - AS_SHOWN, set())

    def test_what_each_comes_to(self) -> None:
        for code in sorted(set(EITHER_SIDE) & (NOTHING | UNSTEADY | AT_TOP_SPEED | CANNOT_SAY | AS_SHOWN)):
            made = case(code)
            if not any(item.severity == "blocking" for item in evaluate(made).findings):
                continue
            found = now(made)
            with self.subTest(code=code.value, found=found):
                if code in NOTHING:
                    self.assertEqual((found.kind, found.high_kmh, found.text), ("nothing", 0.0, "nothing"))
                elif code in UNSTEADY:
                    self.assertEqual(found.kind, "unsteady")
                    self.assertLess(found.low_kmh + 2, found.high_kmh)
                elif code in CANNOT_SAY:
                    self.assertEqual((found.kind, found.text), ("unknown", "not known"))
                else:
                    self.assertEqual((found.kind, found.high_kmh), ("shows", found.would_kmh))
                self.assertEqual(found.kind == "shows", found.cause == "")

    def test_without_one_it_shows_its_figure(self) -> None:
        for code, (base, _, within) in EITHER_SIDE.items():
            made = installation(base, **within)
            result = evaluate(made)
            if any(item.severity == "blocking" for item in result.findings):
                continue
            with self.subTest(code=code.value):
                self.assertEqual(shown_now(made, result)[0].high_kmh, result.readouts[0].shown.shown_kmh)


class InEveryView(TestCase):
    def test_the_bench_shows_the_same(self) -> None:
        for code in sorted(NOTHING):
            made = case(code)
            kmh = made.check_speed_kmh
            frame = bench_moment(made, evaluate(made), Moment(profile=Profile.swept(kmh, kmh, 30), now_s=29))
            self.assertEqual((code, frame.readers[0].shown_kmh), (code, 0.0))

    def test_twice_as_many_pulses_counted_over_a_second_are_twice_the_speed(self) -> None:
        """Arithmetic: two closings of a reed per magnet, counted over a gate of many turns."""
        base, beyond, _ = EITHER_SIDE[Code.DOUBLE]
        gate = {"readouts__0__timing": {"method": "gate", "gate_s": 10}}
        found = now(installation(base, **beyond, **gate))
        self.assertEqual((found.kind, found.text), ("other", "200.0 km/h"))
        self.assertAlmostEqual((found.low_kmh + found.high_kmh) / 2, 200, delta=1)

    def test_a_level_that_one_reader_does_not_see_leaves_the_other(self) -> None:
        base, beyond, _ = EITHER_SIDE[Code.LOW_LEVEL]
        readouts = installation(base, **beyond).model_dump(mode="json")["readouts"]
        other = readouts[0] | {"name": "Logger", "input": None}
        made = installation(base, **beyond, readouts=[readouts[0], other])
        self.assertEqual([item.kind for item in shown_now(made, evaluate(made))], ["nothing", "shows"])

    def test_the_vehicle_s_table_and_the_texts_of_job_sheets(self) -> None:
        alloy = case(Code.NOT_FERROUS)
        sheet = vehicle_sheet(((1, alloy), (2, installation(CYCLE))), SheetSettings(speed_kmh=60))
        self.assertEqual([row.displays[0].shown_now.kind for row in sheet.rows], ["nothing", "shows"])
        self.assertEqual(numbers_of(alloy, evaluate(alloy))["shown"], "nothing at 100 km/h")


class Ends(TestCase):
    def test_what_takes_hours_to_settle_is_not_known(self) -> None:
        """A magnet past a display that averages 1000 pulses, at a crawl: its first figure comes after hours."""
        base, beyond, _ = EITHER_SIDE[Code.DOUBLE]
        slow = {"check_speed_kmh": 0.5, "readouts__0__timing": {"pulses_averaged": 1000}}
        self.assertEqual(now(installation(base, **beyond, **slow)).kind, "unknown")

    def test_a_gate_of_a_minute_is_waited_for(self) -> None:
        base, beyond, _ = EITHER_SIDE[Code.DOUBLE]
        found = now(installation(base, **beyond, readouts__0__timing={"method": "gate", "gate_s": 60}))
        self.assertEqual(found.text, "200.0 km/h")
