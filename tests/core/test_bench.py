"""The simulated bench: profiles, moments, recorded runs, test cards."""

from __future__ import annotations

from pathlib import Path
from typing import Any
from unittest import TestCase

import numpy as np
from pydantic import ValidationError

from speedchain import InputError, evaluate
from speedchain.bench.card import Card, card_of, card_speeds_kmh
from speedchain.bench.files import MOST_CHANGES, vcd
from speedchain.bench.gauge import follows
from speedchain.bench.moment import MOST_LOOKED_AT, Moment, bench_moment, memory_s
from speedchain.bench.profile import Profile, ProfilePoint, travel_of
from speedchain.bench.run import Run, Stopped, run_bench
from speedchain.bench.satellite import MOST_FIXES, Receiver, sentences
from speedchain.bench.simulation import Faults, at_the_reader, bounded, edges_of, line_of
from speedchain.sheets.pdf import card_pdf
from tests.installations import CAR, CYCLE, installation

FIT = str(Path(__file__).parent / "version_1" / "plover.fit.json")
MAGNETS = {"kind": "magnets", "count": 3, "magnets": {"radius_mm": 75}}


def held(kmh: float, now_s: float = 30, **more: Any) -> Moment:
    return Moment(profile=Profile.swept(kmh, kmh, 1), now_s=now_s, **more)


def card(points: list[tuple[float, float | None]], **changes: Any) -> Card:
    lines = [{"speed_kmh": speed, "read_kmh": read} for speed, read in points]
    car = installation(CAR, **changes, readouts__0__card=lines)
    return card_of(car, evaluate(car))


class Profiles(TestCase):
    def test_the_way_is_the_area_under_the_speed(self) -> None:
        """Sum of trapezia by hand: 0 to 72 km/h in 10 s is 100 m, 10 s at 72 is 200 m."""
        points = [(0, 0), (10, 72), (20, 72)]
        profile = Profile(points=tuple([ProfilePoint(at_s=at, kmh=kmh) for at, kmh in points]))
        travel = travel_of(profile, 0, 20, 1000.0)
        self.assertAlmostEqual(travel.turns[-1], 300, places=6)
        self.assertAlmostEqual(float(np.interp(10, travel.time_s, travel.turns)), 100, places=4)

    def test_it_is_held_before_and_after(self) -> None:
        profile = Profile.swept(20, 40, 10)
        self.assertEqual(profile.at(np.array([-5.0, 0.0, 5.0, 99.0])).tolist(), [20, 20, 30, 40])

    def test_time_does_not_run_back(self) -> None:
        with self.assertRaises(ValidationError) as caught:
            Profile(points=(ProfilePoint(at_s=3, kmh=1), ProfilePoint(at_s=2, kmh=1)))
        self.assertIn("in order of time", str(caught.exception))

    def test_a_tyre_that_grows_turns_less_often(self) -> None:
        grown = installation(CAR, wheel__corrections={"growth_pct": 2, "growth_at_kmh": 150}, check_speed_kmh=50)
        evaluation = evaluate(grown)
        line = line_of(grown, evaluation, Faults())
        ends = [line.travel(Profile.swept(v, v, 1), 0, 1).turns[-1] / v for v in (50, 150)]
        self.assertLess(ends[1], ends[0] * 0.985)


class Moments(TestCase):
    def test_standing_still_shows_nothing_and_breaks_nothing(self) -> None:
        frame = bench_moment(installation(CAR), evaluate(installation(CAR)), held(0))
        self.assertEqual((frame.passed, frame.readers[0].shown_kmh, frame.sensor_hz), (0, 0.0, 0.0))
        self.assertEqual(len(frame.scope.raw), 601)

    def test_the_reader_falls_to_zero_after_its_time_out(self) -> None:
        car = installation(CAR, readouts__0__timing={"time_out_s": 1})
        evaluation = evaluate(car)
        stop = Profile(points=tuple([ProfilePoint(at_s=at, kmh=v) for at, v in ((0, 60), (10, 60), (10.01, 0))]))
        shown = [
            bench_moment(car, evaluation, Moment(profile=stop, now_s=at)).readers[0].shown_kmh
            for at in (9.9, 10.6, 11.5)
        ]
        self.assertAlmostEqual(shown[0], 60, delta=1)
        self.assertGreater(shown[1], 0)
        self.assertEqual(shown[2], 0)

    def test_the_same_moment_is_the_same_picture_and_the_next_is_another(self) -> None:
        car, result = installation(CAR), evaluate(installation(CAR))
        noisy = Faults(noise=0.3)
        once, again, later = (bench_moment(car, result, held(50, at, faults=noisy)) for at in (30, 30, 30.05))
        self.assertEqual(once, again)
        self.assertNotEqual(once.scope.raw, later.scope.raw)

    def test_a_slow_reader_of_a_fast_ring_still_reads_true(self) -> None:
        """More pulses in its memory than are simulated: the older ones come clean."""
        timing = {"method": "gate", "gate_s": 5}
        car = installation(CAR, target__count=600, readouts__0__timing=timing, readouts__0__display_step_kmh=0.1)
        evaluation = evaluate(car)
        self.assertGreater(memory_s(car, 3000) * 200 / 3600 * evaluation.pulses_per_km, MOST_LOOKED_AT)
        frame = bench_moment(car, evaluation, held(200))
        self.assertAlmostEqual(frame.readers[0].shown_kmh, 200, delta=0.2)
        self.assertLessEqual(frame.passed, MOST_LOOKED_AT)

    def test_both_edges_counted_are_twice_as_many(self) -> None:
        both = installation(CAR, target__edges=2)
        frame = bench_moment(both, evaluate(both), held(50))
        one = bench_moment(installation(CAR), evaluate(installation(CAR)), held(50))
        self.assertAlmostEqual(frame.sensor_hz, 2 * one.sensor_hz)
        self.assertEqual((frame.missed, frame.false), (0, 0))
        self.assertAlmostEqual(frame.readers[0].shown_kmh, 50, delta=3)  # high and low are not equally long

    def test_a_crank_ring_s_own_gap_is_not_a_missed_tooth(self) -> None:
        crank = {"kind": "toothed_ring", "count": 34, "ring": {"diameter_mm": 150, "missing_teeth": 2}}
        car = installation(CAR, target=crank, placement={"air_gap_mm": 0.8})
        frame = bench_moment(car, evaluate(car), held(50))
        self.assertEqual(frame.missed, 0)
        broken = bench_moment(car, evaluate(car), held(50, faults=Faults(missing=1)))
        self.assertGreater(broken.missed, 0)

    def test_slow_pulses_have_a_frequency_until_one_is_overdue(self) -> None:
        cycle = installation(CYCLE)
        evaluation = evaluate(cycle)
        self.assertAlmostEqual(
            bench_moment(cycle, evaluation, held(5)).readers[0].hz, 5 * evaluation.pulses_per_km / 3600, places=3
        )
        stop = Profile(points=tuple([ProfilePoint(at_s=at, kmh=v) for at, v in ((0, 5), (20, 5), (20.01, 0))]))
        self.assertEqual(bench_moment(cycle, evaluation, Moment(profile=stop, now_s=24)).readers[0].hz, 0)

    def test_the_window_is_as_long_as_asked(self) -> None:
        frame = bench_moment(installation(CAR), evaluate(installation(CAR)), held(50, window_ms=200))
        self.assertEqual(frame.scope.span_ms, 200)
        self.assertEqual(len(frame.scope.counted_ms), round(frame.sensor_hz * 0.2))

    def test_a_placement_that_misses_teeth_does_so_on_the_bench(self) -> None:
        ring = {"kind": "toothed_ring", "count": 48, "ring": {"diameter_mm": 98, "runout_mm": 0.3}}
        for gap, missed in ((0.8, False), (3.0, True)):
            car = installation(CAR, target=ring, placement={"air_gap_mm": gap})
            frame = bench_moment(car, evaluate(car), held(50))
            self.assertEqual(frame.missed > 0, missed, gap)

    def test_a_gauge_beyond_its_end(self) -> None:
        for past_end, shown in (("stops", 80), ("wraps", 0)):
            car = installation(CAR, readouts__0__scale_end_kmh=80, readouts__0__past_end=past_end)
            self.assertEqual(bench_moment(car, evaluate(car), held(120)).readers[0].shown_kmh, shown)


class Runs(TestCase):
    def test_it_says_how_far_it_is_and_stops_when_told(self) -> None:
        car = installation(CAR)
        shares: list[float] = []

        def twice(share: float) -> bool:
            shares.append(share)
            return len(shares) < 2

        with self.assertRaises(Stopped):
            run_bench(car, evaluate(car), Run(profile=Profile.swept(100, 100, 1), seconds=120), twice)
        self.assertEqual(len(shares), 2)
        self.assertLess(shares[0], shares[1])

    def test_where_it_fails_is_said_with_speeds(self) -> None:
        coil = installation(
            CAR, sensor={"kind": "variable_reluctance"},
            signal={"vr": {"measured_vpp": 0.2, "at_hz": 100},
                "conditioner": {"kind": "vr_converter", "arming_v": 0.5}},
        )  # fmt: skip
        evaluation = evaluate(coil)
        lowest = evaluation.signal_detail.coil.min_speed_kmh  # type: ignore[union-attr]
        ran = run_bench(coil, evaluation, Run(profile=Profile.swept(5, 150, 30), seconds=30))
        self.assertGreater(ran.missed, 0)
        self.assertAlmostEqual(max(one.to_kmh for one in ran.stretches), lowest, delta=5)
        self.assertIn("pulses missed, between 5 and", ran.text)

    def test_bounds_are_said(self) -> None:
        car = installation(CAR)
        evaluation = evaluate(car)
        for asked, limit in (
            (Run(profile=Profile.swept(50, 50, 1), seconds=3601), "3600 s"),
            (Run(profile=Profile.swept(0, 0, 1), seconds=0), "3600 s"),
            (Run(profile=Profile.swept(400, 400, 1), seconds=3600), "2000000"),
        ):
            with self.subTest(limit), self.assertRaises(InputError) as caught:
                run_bench(car, evaluation, asked)
            self.assertIn(limit, caught.exception.problems[0].limit)
            self.assertTrue(caught.exception.problems[0].remedy)
        with self.assertRaises(InputError):
            bounded(11, "file", 10)
        with self.assertRaises(InputError):
            sentences(Receiver(rate_hz=50), Profile.swept(50, 50, 1), MOST_FIXES / 50 + 1)
        with self.assertRaises(InputError):
            list(vcd({"a": (np.arange(MOST_CHANGES + 1.0), np.ones(MOST_CHANGES + 1))}, 1.0))


class Cards(TestCase):
    def test_speeds_are_round_and_go_beyond_the_end(self) -> None:
        car = installation(
            CAR, sensor={"kind": "hall_gear_tooth", "needs": {"max_speed_kmh": 190}}, readouts__0__scale_end_kmh=200
        )
        speeds = card_speeds_kmh(car, 0)
        self.assertEqual(speeds[:3], (20, 40, 60))
        self.assertGreater(speeds[-1], 200)
        self.assertEqual(
            card_speeds_kmh(installation(CAR, readouts__0__card=[{"speed_kmh": "30 mph"}]), 0), (48.28032,)
        )

    def test_nothing_read_is_asked_for_and_one_point_is_no_line(self) -> None:
        for points in ([], [(50.0, 50.0)], [(50.0, None), (100.0, None)], [(50.0, 0.0), (100.0, 0.0)]):
            result = card(points)
            self.assertIsNone(result.line)
            self.assertFalse(result.agrees)
            self.assertIn("two speeds or more", result.text[0])

    def test_an_offset_is_told_apart_from_the_scale(self) -> None:
        result = card([(v, v + 6) for v in (20, 40, 60, 80, 100)])
        assert result.line is not None
        self.assertAlmostEqual(result.line.scale, 1)
        self.assertTrue(any("+6.0 km/h off at every speed" in words for words in result.text))
        self.assertFalse(result.agrees)

    def test_the_end_is_found_whether_it_stops_or_falls_back(self) -> None:
        rising = [(float(v), float(v)) for v in range(20, 121, 20)]
        stops = card([*rising, (140, 130), (160, 130)])
        falls = card([*rising, (140, 3), (160, 0)])
        assert stops.line is not None
        assert falls.line is not None
        self.assertEqual((stops.line.scale_end_kmh, stops.line.wraps, stops.line.points), (130, False, 6))
        self.assertEqual((falls.line.scale_end_kmh, falls.line.wraps, falls.line.points), (120, True, 6))
        self.assertIsNone(card(rising).line.scale_end_kmh)  # type: ignore[union-attr]

    def test_silence_below_the_first_movement_is_told_and_left_out(self) -> None:
        result = card([(5, 0), (10, 0), (20, 20), (40, 40), (80, 80)])
        assert result.line is not None
        self.assertEqual(result.line.points, 3)
        self.assertIn("Nothing shown at 5 km/h.", result.text)

    def test_the_next_number_makes_it_read_true(self) -> None:
        """Typed in, the number divides by just what the needle was too high."""
        for encoding, typed in (("pulses_per_km", 24_905), ("mm_per_pulse", 40.2), ("hz_per_kmh", 6.92)):
            reading = {"name": "Dash", "encoding": encoding, "current_setting": typed}
            car = installation(CAR, readouts__0=reading, purpose="slip_control")
            shown = evaluate(car).readouts[0].in_use.shown_kmh / 100
            result = card([(v, v * shown * 1.05) for v in (40, 80, 120)], readouts__0=reading, purpose="slip_control")
            assert result.next is not None
            corrected = installation(
                CAR, readouts__0=reading | {"current_setting": result.next.number}, purpose="slip_control"
            )
            after = evaluate(corrected).readouts[0].in_use.shown_kmh / 100 * 1.05
            with self.subTest(encoding):
                self.assertAlmostEqual(after, 1, delta=0.02)
                self.assertAlmostEqual(100 * (after - 1), result.next.left_pct, delta=0.05)

    def test_a_gauge_behind_a_converter_is_known_anew(self) -> None:
        """Reads 5 % high at 16 000 pulses per km: it wants 16 000/1.05, be it by pulses or by turns of its cable."""
        reading = {"name": "Gauge", "encoding": "pulses_per_km", "current_setting": 16_000, "display_step_kmh": 0.1}
        points = [(v, v * 1.05) for v in (40, 80, 120)]
        result = card(points, readouts__0=reading, signal={"converter": {"target_pulses_per_km": 16_000}})
        assert result.next is not None
        self.assertAlmostEqual(result.next.target_pulses_per_km or 0, 16_000 / 1.05, delta=0.5)
        self.assertEqual(result.next.number, 15_238)
        self.assertIsNone(result.next.cable_turns_per_km)
        cable = {"drives": "mechanical", "cable_turns_per_km": 80, "motor_pulses": 200}
        turned = card(points, readouts__0=reading, signal={"converter": cable})
        assert turned.next is not None
        self.assertAlmostEqual(turned.next.cable_turns_per_km or 0, 80 / 1.05, delta=0.01)

    def test_a_road_display_is_still_rounded_so_that_it_never_reads_low(self) -> None:
        result = card([(50, 49), (100, 98)])
        assert result.next is not None
        self.assertGreaterEqual(result.next.left_pct, 0)

    def test_paper_holds_what_was_read(self) -> None:
        car = installation(CAR, readouts__0__card=[{"speed_kmh": 50, "read_kmh": 51}], name="A < B & C Ω")
        self.assertTrue(card_pdf(car, card_of(car, evaluate(car))).startswith(b"%PDF"))


class Edges(TestCase):
    def test_bounces_are_shorter_than_the_pulse_and_filtered_out(self) -> None:
        """Of each closing only the last, lasting, contact is left."""
        cycle = installation(CYCLE, target=MAGNETS, readouts__0__input={"min_pulse_us": 550, "pull_up_ohm": 4700})
        line = line_of(cycle, evaluate(cycle), Faults(bounce_ms=1))
        travel = line.travel(Profile.swept(30, 30, 1), 0.0, 20.0)
        edges = edges_of(line, travel=travel, first=0, last=200, seed=3)
        self.assertGreater(edges.given_s.size, 1.9 * edges.passed_s.size)
        counted = at_the_reader(line, cycle.readouts[0], edges)
        self.assertAlmostEqual(counted.size, edges.passed_s.size, delta=1)

    def test_a_needle_at_rest_stays_where_it_is(self) -> None:
        time = np.linspace(0, 1, 20)
        np.testing.assert_allclose(follows(time, np.full(20, 80.0), 0.3), 80)

    def test_pulses_of_noise_free_teeth_fall_evenly(self) -> None:
        car = installation(CAR)
        line = line_of(car, evaluate(car), Faults())
        travel = line.travel(Profile.swept(80, 80, 1), 0.0, 5.0)
        edges = edges_of(line, travel=travel, first=0, last=500, seed=0)
        spans = np.diff(edges.given_s)
        np.testing.assert_allclose(spans, spans[0], rtol=1e-9)
        np.testing.assert_allclose(edges.width_s[:-1], spans[0] / 2, rtol=0.2)
