"""Derived channels, distances, changes of a ring, coast-down, traction tables and drift: on simulated recordings."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np
from scipy.integrate import solve_ivp
from scipy.optimize import curve_fit

from speedchain.document.installation import example_installation
from speedchain.evaluation import evaluate
from speedchain.fields import InputError, said
from speedchain.runs import (
    Channel,
    CoastDown,
    DatedError,
    Derived,
    DistanceWanted,
    Drive,
    Noted,
    Quantity,
    ReadAs,
    Recording,
    Ring,
    SpeedRecord,
    TimeSpan,
    coast_down,
    derive,
    distance_check,
    drift_of,
    edges_of,
    fingerprint,
    histogram,
    lag_between,
    read_file,
    ring_change,
    rows_of,
    wheel_speed_by,
)
from speedchain.runs.drift import DAY_S
from speedchain.runs.water import works_from

T = np.arange(0.0, 300.0, 0.2)


def channel(name: str, values: np.ndarray, quantity: Quantity = "speed", time_s: np.ndarray = T) -> Channel:
    return Channel(name=name, quantity=quantity, unit="", time_s=time_s, values=values, true=name == "true")


def recording(*channels: Channel) -> Recording:
    return Recording(channels=channels, lines=0, bad_lines=0)


class DerivedChannels(TestCase):
    def test_what_was_noted_at_moments_has_no_delay(self) -> None:
        """Between two moments nothing was noted: a line through them would be like the drive, and shift it."""
        speed = 60 + 30 * np.sin(T / 20)
        noted = tuple(Noted(at_s=at, shown_kmh=float(np.interp(at + 4, T, speed))) for at in np.arange(10.0, 290.0, 15))
        held, _ = derive(recording(channel("true", speed)), Derived(kind="noted", of="true", noted=noted))
        there = np.isfinite(held.values)
        self.assertLess(there.mean(), 0.5)
        self.assertFalse(lag_between(SpeedRecord(T, speed), SpeedRecord(T, held.values)).found)

    def test_a_gap_in_either_record_does_not_move_the_delay(self) -> None:
        speed = 60 + 30 * np.sin(T / 8) + 8 * np.sin(T / 3)
        late = np.interp(T - 1.3, T, speed)
        for gap, other in ((late.copy(), speed), (speed.copy(), late)):
            gap[(T > 90) & (T < 130)] = np.nan
            true, shown = (other, gap) if other is speed else (gap, other)
            found = lag_between(SpeedRecord(T, true), SpeedRecord(T, shown))
            self.assertTrue(found.found)
            self.assertAlmostEqual(found.lag_s, 1.3, delta=0.05)

    def test_acceleration_of_a_known_speed(self) -> None:
        """v = 20 + 5·sin(t/10) m/s, so a = 0.5·cos(t/10)."""
        found, _ = derive(
            recording(channel("v", 3.6 * (20 + 5 * np.sin(T / 10)))), Derived(kind="acceleration", of="v")
        )
        np.testing.assert_allclose(found.values[10:-10], 0.5 * np.cos(T / 10)[10:-10], atol=0.002)
        self.assertEqual((found.unit, found.quantity), ("m/s²", "other"))

    def test_distance_of_a_known_speed_and_through_a_gap(self) -> None:
        v = 3.6 * (20 + 5 * np.sin(T / 10))
        v[700:720] = np.nan
        found, _ = derive(recording(channel("v", v)), Derived(kind="distance", of="v"))
        expected = 20 * T[-1] + 50 * (1 - math.cos(T[-1] / 10))
        self.assertAlmostEqual(found.values[-1], expected, delta=3)
        self.assertTrue(np.all(np.diff(found.values) > 0))

    def test_slip_and_ratio_after_the_lag(self) -> None:
        v = 60 + 20 * np.sin(T / 9)
        later = Channel(name="rear", quantity="speed", unit="", time_s=T + 0.7, values=1.03 * v)
        both = recording(channel("front", v), later)
        slip, _ = derive(both, Derived(kind="slip", of="rear", against="front"))
        ratio, _ = derive(both, Derived(kind="ratio", of="rear", against="front"))
        self.assertAlmostEqual(float(np.nanmedian(slip.values)), 3.0, delta=0.02)
        self.assertLess(float(np.nanstd(slip.values)), 0.05)
        self.assertAlmostEqual(float(np.nanmedian(ratio.values)), 1.03, delta=2e-4)

    def test_standing_still_has_no_slip(self) -> None:
        v = np.where(T < 100, 0.0, 50.0)
        slip, _ = derive(
            recording(channel("front", v), channel("rear", v)), Derived(kind="slip", of="rear", against="front")
        )
        self.assertTrue(np.isnan(slip.values[:300]).all())
        self.assertAlmostEqual(float(np.nanmedian(slip.values)), 0.0)

    def test_speed_from_pulses_is_what_the_wheel_did(self) -> None:
        """A ring of 48 with runout on a wheel of 2 m at 4 turns a second: 28.8 km/h, whatever the runout."""
        evaluation = evaluate(example_installation())
        wanted = wheel_speed_by(evaluation, "edges", "Dash, revision 2")
        per_turn = round(evaluation.pulses_per_turn_of_wheel)
        metres = per_turn * evaluation.metres_per_pulse
        times = edges_of(Ring(teeth=per_turn, turns=60, speeding_pct=0, noise_pct=0, runout_deg=1.0))
        found, kind = derive(recording(channel("edges", np.empty(0), "pulses", times)), wanted)
        np.testing.assert_allclose(found.values, 3.6 * 4.0 * metres, rtol=1e-6)
        self.assertEqual((found.name, kind.quantity), ("speed from edges, Dash, revision 2", "speed"))

    def test_speed_from_a_frequency(self) -> None:
        evaluation = evaluate(example_installation())
        wanted = wheel_speed_by(evaluation, "f", "x")
        frequency = channel("f", np.full(T.size, evaluation.frequency_hz), "frequency")
        found, _ = derive(recording(frequency), wanted)
        self.assertAlmostEqual(found.values[0], 100.0, places=6)  # the example's frequency is for 100 km/h

    def test_what_cannot_be_derived_is_refused_by_field(self) -> None:
        speed, pulses = channel("v", np.full(T.size, 50.0)), channel("p", np.empty(0), "pulses")
        nothing = channel("n", np.full(T.size, np.nan))
        wheel = Derived(kind="wheel_speed", of="v", by="x", kmh_per_hz=0.1, pulses_per_turn=48)
        for wanted, path in (
            (Derived(kind="acceleration", of="p"), "of"),
            (Derived(kind="slip", of="v", against="gone"), "against"),
            (Derived(kind="distance", of="n"), "of"),
            (wheel, "of"),
        ):
            with self.subTest(wanted.name()), self.assertRaises(InputError) as caught:
                derive(recording(speed, pulses, nothing), wanted)
            self.assertEqual(caught.exception.problems[0].path, path)

    def test_a_histogram_adds_up_to_the_time(self) -> None:
        found = histogram(T, np.where(T < 100, 20.0, 40.0), 10)
        self.assertAlmostEqual(sum(found.seconds), T[-1] - T[0], places=6)
        self.assertAlmostEqual(found.seconds[0], 100, delta=0.2)
        self.assertEqual(histogram(T, np.full(T.size, np.nan)).edges, ())


class Distances(TestCase):
    def recorded(self, **changes: object) -> Recording:
        rows = rows_of(Drive(**({"hold_s": 60.0, "seed": 3} | changes)))  # type: ignore[arg-type]
        names = (("true", rows.true_kmh, "speed"), ("display", rows.shown_kmh, "speed"))
        places = (("lat", rows.latitude_deg, "latitude"), ("lon", rows.longitude_deg, "longitude"))
        return recording(*[channel(n, v, q, rows.time_s) for n, v, q in (*names, *places)])  # type: ignore[arg-type]

    def test_by_places_and_by_speed(self) -> None:
        for true in ("places", "true"):
            found = distance_check(self.recorded(shown_per_true=0.97), DistanceWanted(true=true, shown="display"))
            self.assertLess(abs(found.error_pct + 3), found.expanded_pct)
            self.assertLess(found.expanded_pct, 1.5)
            self.assertEqual(found.verdict, "wrong")
            self.assertIn(f"{1 / found.factor:.4f}", said(found.advice))

    def test_a_measured_kilometre_and_a_counter(self) -> None:
        """1000 m on the ground, 985 m counted in steps of 10 m: −1.5 % ± (step/√6 and half a metre)."""
        counter = channel("trip", np.floor(np.linspace(0, 985, T.size) / 10) * 10 + 120, "distance")
        wanted = DistanceWanted(true="measured", measured_m=1000, shown="trip")
        found = distance_check(recording(counter), wanted)
        self.assertAlmostEqual(found.shown.length_m, 980)
        self.assertAlmostEqual(found.error_pct, -2.0)
        by_hand = 200 * math.hypot(10 / math.sqrt(6) / 980, 0.5 / 1000)
        self.assertAlmostEqual(found.expanded_pct, by_hand)

    def test_a_counter_in_a_table(self) -> None:
        """A mile is 1609.344 m (BIPM/NIST SP 811); what is in hertz is a frequency, any other column is as said."""
        text = "time [s],trip [mi],sensor [Hz],oil [bar]\n0,10,100,4\n100,11,200,5\n"
        found = read_file(text.encode())
        self.assertEqual(
            [(c.name, c.quantity) for c in found.channels],
            [("trip", "distance"), ("sensor", "frequency"), ("oil", "other")],
        )
        wanted = DistanceWanted(true="measured", measured_m=1609.344, shown="trip")
        self.assertAlmostEqual(distance_check(found, wanted).error_pct, 0.0)
        columns = [{"meaning": name} for name in ("time", "ignored", "ignored", "other")]
        oil = read_file(text.encode(), ReadAs(columns=columns)).channels[0]  # type: ignore[arg-type]
        self.assertEqual((oil.name, oil.values.tolist()), ("oil", [4.0, 5.0]))

    def test_its_uncertainty_holds_the_truth(self) -> None:
        held = 0
        random = np.random.default_rng(7)
        for seed in range(100):
            error = float(random.uniform(-5, 5))
            drawn = self.recorded(seed=seed, shown_per_true=1 + error / 100)
            scale = 1 + random.normal(0, 0.001)  # of the satellite's speed, as its uncertainty says
            channels = [
                channel(c.name, c.values * (scale if c.name == "true" else 1), c.quantity, c.time_s)
                for c in drawn.channels
            ]
            found = distance_check(recording(*channels), DistanceWanted(true="true", shown="display"))
            held += abs(found.error_pct - error) < found.expanded_pct
        self.assertGreaterEqual(held, 90)
        self.assertLess(held, 100)

    def test_a_part_of_it_and_what_is_refused(self) -> None:
        speed = channel("v", np.full(T.size, 72.0))
        half = DistanceWanted(true="measured", measured_m=2000, shown="v", span=TimeSpan(from_s=100, to_s=200))
        self.assertAlmostEqual(distance_check(recording(speed), half).shown.length_m, 2000, delta=0.1)
        for changes, path in (
            ({"measured_m": None}, "measured_m"),
            ({"shown": "gone"}, "shown"),
            ({"true": "places"}, "true"),
            ({"measured_m": 50.0}, "recording"),
            ({"span": TimeSpan(from_s=900, to_s=901)}, "span"),
        ):
            with self.subTest(path), self.assertRaises(InputError) as caught:
                distance_check(recording(speed), half.model_copy(update=changes))
            self.assertEqual(caught.exception.problems[0].path, path)


class RingChanges(TestCase):
    def test_a_tooth_bent_since_is_named_whatever_tooth_came_first(self) -> None:
        """A ring with errors of its own on every tooth, as real ones have; captured from another tooth on."""
        random = np.random.default_rng(11)
        right = 0
        for seed in range(100):
            bent, start = int(random.integers(1, 41)), int(random.integers(0, 40))
            own = np.tile(random.normal(0, 1.0, 40), 40)
            before, edges = (edges_of(Ring(teeth=40, seed=number)) for number in (seed, 500 + seed))
            before, edges = (times + own / 100 * np.gradient(times) for times in (before, edges))
            edges[bent - 1 :: 40] += 0.1 * np.gradient(edges)[bent - 1 :: 40]
            now, then = fingerprint(np.sort(edges)[start:], count=40), fingerprint(before, count=40)
            found = ring_change(now, then)
            number = (bent - 1 - start) % 40 + 1
            right += [tooth.number for tooth in found.teeth] == [number] and abs(found.teeth[0].by_pct - 10) < 2
        self.assertGreaterEqual(right, 97)

    def test_runout_that_came_with_a_new_bolt_circle(self) -> None:
        before = fingerprint(edges_of(Ring(teeth=48, seed=1)), mark_s=0.0, count=48)
        now = fingerprint(edges_of(Ring(teeth=48, seed=2, runout_deg=0.5)), mark_s=0.0, count=48)
        found = ring_change(now, before, same_mark=True)
        self.assertAlmostEqual(found.runout_deg, 0.5, delta=0.03)
        self.assertEqual(found.teeth, ())
        self.assertEqual(said(found.text), "No tooth has changed since.")

    def test_two_flaws_alike_on_an_even_ring_are_not_taken_for_each_other(self) -> None:
        one, both = {"teeth": 40, "bent": 7, "bent_pct": 9.0}, edges_of(Ring(teeth=40, bent=7, bent_pct=9.0, seed=3))
        both[29::40] += 0.09 * np.gradient(both)[29::40]
        before = fingerprint(edges_of(Ring(**one, seed=4)), count=40)  # type: ignore[arg-type]
        self.assertIn("Mark a tooth", said(ring_change(fingerprint(np.sort(both), count=40), before).text))

    def test_another_ring_is_said(self) -> None:
        even = fingerprint(edges_of(Ring(teeth=40, seed=1, noise_pct=1.5)), count=40)
        other = fingerprint(edges_of(Ring(teeth=40, seed=2, noise_pct=1.5)), count=40)
        self.assertIn("cannot be aligned", said(ring_change(even, other).text))
        missing = fingerprint(edges_of(Ring(teeth=40, seed=1, missing=3)), count=39)
        self.assertIn("Earlier capture: 39 pulses per turn of 40 positions", said(ring_change(even, missing).text))


class CoastingDown(TestCase):
    def record(
        self, losses: tuple[float, ...], drag: float = 4e-4, noise_kmh: float = 0.1, seed: int = 0
    ) -> SpeedRecord:
        """Runs from 90 km/h, each with its own constant loss, solved step by step by scipy.integrate.solve_ivp."""
        random = np.random.default_rng(seed)
        times, speeds, begins = [], [], 0.0
        for loss in losses:
            t = np.arange(0.0, 60.0, 0.2)
            solved = solve_ivp(
                lambda _, v, a=loss: [-a - drag * v[0] ** 2], (0, 60), [25.0], t_eval=t, rtol=1e-9, atol=1e-9
            )
            times += [begins + t, begins + 60 + np.arange(0.0, 20.0, 0.2)]
            v = np.maximum(solved.y[0], 0)
            speeds += [v, np.linspace(v[-1], 25.0, 100)]
            begins += 80
        kmh = 3.6 * np.concatenate(speeds)
        return SpeedRecord(np.concatenate(times), kmh + random.normal(0, noise_kmh, kmh.size))

    def found(self, record: SpeedRecord) -> CoastDown:
        found = coast_down(record)
        assert found is not None
        return found

    def test_the_losses_come_back(self) -> None:
        found = self.found(self.record((0.16, 0.12)))
        self.assertEqual(len(found.runs), 2)
        self.assertAlmostEqual(found.constant_m_s2, 0.14, delta=0.005)
        self.assertAlmostEqual(found.drag_per_m, 4e-4, delta=2e-5)
        self.assertLess(abs(found.constant_m_s2 - 0.14), found.expanded_m_s2)

    def test_the_times_are_those_of_the_solution(self) -> None:
        found = self.found(self.record((0.14,), noise_kmh=0.0))
        first = found.times[0]
        from_kmh, to_kmh, seconds = first.from_kmh, first.to_kmh, first.seconds
        self.assertEqual((from_kmh, to_kmh), (80.0, 70.0))
        solved = solve_ivp(
            lambda _, v: [-0.14 - 4e-4 * v[0] ** 2],
            (0, 100),
            [from_kmh / 3.6],
            events=lambda _, v: v[0] - to_kmh / 3.6,
            rtol=1e-9,
        )
        self.assertAlmostEqual(seconds, solved.t_events[0][0], delta=0.05)

    def test_its_uncertainty_holds_the_truth(self) -> None:
        """Four runs, each with a slope of its own: of 150 such sets ± held the truth in 96 %; here forty of them."""
        random = np.random.default_rng(8)
        held = 0
        for seed in range(40):
            losses = tuple(0.16 + random.normal(0, 0.02, 4))
            found = self.found(self.record(losses, seed=seed))
            held += abs(found.constant_m_s2 - 0.16) < found.expanded_m_s2
        self.assertGreaterEqual(held, 35)

    def test_a_brake_that_drags_and_one_run_alone_are_said(self) -> None:
        self.assertIn("dragging brake", said(self.found(self.record((0.4, 0.42))).advice))
        self.assertIn("the other way", said(self.found(self.record((0.14,))).advice))

    def test_a_drive_under_power_or_braked_is_none(self) -> None:
        self.assertIsNone(coast_down(SpeedRecord(T, np.full(T.size, 50.0))))
        self.assertIsNone(coast_down(SpeedRecord(T, np.clip(90 - 3.6 * 2 * T, 0, None))))
        self.assertIsNone(coast_down(SpeedRecord(T[:2], np.array([5.0, 4.0]))))


class Drifting(TestCase):
    def test_by_hand(self) -> None:
        """−1 ± 0.6 % in spring, −4 ± 0.8 % ninety days later: 3 % less, ± √(0.6² + 0.8²) = 1.0 %."""
        found = drift_of([DatedError(90 * DAY_S, -4.0, 0.8), DatedError(0.0, -1.0, 0.6)])
        assert found is not None
        self.assertEqual(
            (said(found.text), found.real), ("In 90 days the display came to show 3.0 % less, ± 1.0 %.", True)
        )

    def test_a_season_against_scipy(self) -> None:
        """A line through all dates, scipy.optimize.curve_fit with the same standard uncertainties."""
        days, errors, expanded = [0, 30, 70, 120], [-0.8, -1.9, -2.6, -4.4], [0.6, 0.9, 0.5, 0.8]
        dated = [DatedError(d * DAY_S, e, u) for d, e, u in zip(days, errors, expanded, strict=True)]
        found = drift_of(dated)
        assert found is not None
        sigma = np.array(expanded) / 2
        fit, spread = curve_fit(lambda x, a, b: a + b * x, days, errors, sigma=sigma, absolute_sigma=True)
        self.assertAlmostEqual(found.change_pct, fit[1] * 120, places=6)
        self.assertAlmostEqual(found.expanded_pct, 2 * np.sqrt(spread[1, 1]) * 120, places=6)
        self.assertTrue(found.real)

    def test_a_paddle_that_begins_to_turn_later(self) -> None:
        found = drift_of([DatedError(0.0, -1.0, 0.6, 1.8), DatedError(40 * DAY_S, -1.2, 0.6, 3.2)])
        assert found is not None
        self.assertFalse(found.real)
        self.assertIn("It works from 3.2 km/h on, where it was 1.8 km/h", said(found.advice))
        t = np.arange(0.0, 120.0, 1.0)
        v = np.interp(t, [0, 40, 80, 120], [0, 10, 10, 0])
        shown = np.where((v < 2.5) | ((t > 60) & (t < 62)), 0.0, v)  # and a dropout, which is none
        self.assertAlmostEqual(works_from(SpeedRecord(t, v), shown) or 0.0, 2.5, delta=0.13)
        self.assertIsNone(works_from(SpeedRecord(t, v), v + 1))

    def test_no_change_and_one_date(self) -> None:
        same = drift_of([DatedError(0.0, -1.0, 0.6), DatedError(9 * DAY_S, -1.3, 0.6)])
        assert same is not None
        self.assertFalse(same.real)
        self.assertEqual(said(same.advice), "")
        self.assertIsNone(drift_of([DatedError(0.0, -1.0, 0.6), DatedError(3600.0, -9.0, 0.6)]))
