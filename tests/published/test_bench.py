"""The bench's stand-ins against programs of others, event-by-event simulations, and the trade's own log."""

from __future__ import annotations

import itertools
import math
import re
import shutil
import subprocess
import tempfile
from datetime import date
from pathlib import Path
from typing import Any
from unittest import TestCase

import numpy as np
import pynmea2
from hypothesis import example, given, settings
from hypothesis import strategies as st
from scipy import integrate, stats

from speedchain import evaluate
from speedchain.bench.card import card_of
from speedchain.bench.files import levels_of, vcd
from speedchain.bench.gauge import Gauge, follows, needle_kmh
from speedchain.bench.moment import Moment, bench_moment
from speedchain.bench.profile import Profile
from speedchain.bench.run import Run, edges_at_once, run_bench
from speedchain.bench.satellite import Receiver, sentences
from speedchain.bench.simulation import Faults, at_the_reader, converted, edges_of, line_of, shown_by
from speedchain.readout.timing import gate_resolution_kmh, period_resolution_kmh
from speedchain.signal.ratio import best_chain
from tests.installations import CAR, CYCLE, installation
from tests.sizes import sized

REED = {"kind": "magnets", "count": 3, "magnets": {"radius_mm": 75}}


def steady(speed_kmh: float, **more: Any) -> Moment:
    return Moment(profile=Profile.swept(speed_kmh, speed_kmh, 1), now_s=30, **more)


class ValueChangeDump(TestCase):
    """Read back by sigrok-cli, a general-purpose program for logic signals, with its own decoders."""

    def read(self, text: str, decoder: str) -> list[str]:
        program = shutil.which("sigrok-cli")
        assert program, "sigrok-cli is installed by ./test"
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "bench.vcd"
            file.write_text(text)
            done = subprocess.run(
                [program, "-I", "vcd", "-i", str(file), "-P", decoder],
                capture_output=True, text=True, check=True, timeout=60,
            )  # fmt: skip
        return done.stdout.splitlines()

    def test_it_shows_the_frequency_that_was_asked_for(self) -> None:
        car = installation(CAR)
        evaluation = evaluate(car)
        hz = evaluation.pulses_per_km * 50 / 3600
        _, _, edges = edges_at_once(car, evaluation, Run(profile=Profile.swept(50, 50, 2), seconds=2))
        text = "\n".join(vcd({"sensor": levels_of(edges.given_s, edges.width_s)}, 2.0))
        lines = self.read(text, "timing:data=sensor:edge=rising")
        seen = [float(match[1]) for line in lines if (match := re.search(r"\(([\d.]+) Hz\)", line))]
        self.assertGreater(len(seen), 600)
        np.testing.assert_allclose(seen, hz, rtol=2e-3)  # a tick of 1 µs

    def test_two_wires_have_as_many_pulses_as_each_gave(self) -> None:
        car = installation(CAR, signal={"converter": {"target_pulses_per_km": 4000}})
        evaluation = evaluate(car)
        line, _, edges = edges_at_once(car, evaluation, Run(profile=Profile.swept(20, 90, 3), seconds=3))
        assert line.ratio is not None
        behind = converted(edges.given_s, line.ratio, None)
        wires = {
            "sensor": levels_of(edges.given_s, edges.width_s),
            "converter": levels_of(behind, np.append(np.diff(behind), math.inf) / 2),
        }
        text = "\n".join(vcd(wires, 3.0))
        for wire, times in (("sensor", edges.given_s), ("converter", behind)):
            last = [line for line in self.read(text, f"counter:data={wire}:data_edge=rising") if "counter" in line][-1]
            self.assertEqual(int(last.split()[-1]), times.size)


class Satellite(TestCase):
    """Checked character by character, and read back by pynmea2."""

    def test_every_checksum_is_the_exclusive_or_of_its_characters(self) -> None:
        """NMEA 0183: all characters between $ and *; from memory."""
        for line in sentences(Receiver(), Profile.swept(30, 90, 5), 5.0):
            body, given = line[1:].split("*")
            total = 0
            for character in body:
                total ^= ord(character)
            self.assertEqual(int(given, 16), total)
            self.assertEqual(len(body.split(",")), {"GPRMC": 13, "GPVTG": 10, "GPGGA": 15}[body[:5]])

    def test_every_sentence_parses_and_says_the_speed(self) -> None:
        receiver = Receiver(rate_hz=2, speed_noise_kmh=0, place_noise_m=0, course_deg=37)
        result = [pynmea2.parse(line, check=True) for line in sentences(receiver, Profile.swept(72, 72, 60), 60.0)]
        self.assertEqual(len(result), 3 * 121)
        for one in result:
            if one.sentence_type == "RMC":
                self.assertAlmostEqual(one.spd_over_grnd * 1.852, 72, delta=0.002)
                self.assertEqual(one.datestamp, date(2026, 5, 2))
            if one.sentence_type == "VTG":
                self.assertAlmostEqual(one.spd_over_grnd_kmph, 72, delta=0.001)
        first, last = result[0], result[-3]
        # way by the haversine formula on a sphere
        phi1, phi2 = math.radians(first.latitude), math.radians(last.latitude)
        half = (
            math.sin((phi2 - phi1) / 2) ** 2
            + math.cos(phi1) * math.cos(phi2) * math.sin(math.radians(last.longitude - first.longitude) / 2) ** 2
        )
        self.assertAlmostEqual(2 * 6_371_000 * math.asin(math.sqrt(half)), 72 / 3.6 * 60, delta=6)

    def test_noise_is_as_large_as_asked_and_a_lost_fix_says_so(self) -> None:
        receiver = Receiver(rate_hz=10, speed_noise_kmh=0.5, fix_lost_from_s=100, fix_lost_for_s=5)
        result = [pynmea2.parse(line, check=True) for line in sentences(receiver, Profile.swept(90, 90, 1), 200.0)]
        rmc = [one for one in result if one.sentence_type == "RMC"]
        self.assertEqual(sum(one.status == "V" for one in rmc), 50)
        speeds = [one.spd_over_grnd * 1.852 for one in rmc if one.status == "A"]
        self.assertAlmostEqual(float(np.std(speeds)), 0.5, delta=0.05)
        self.assertAlmostEqual(float(np.mean(speeds)), 90, delta=0.05)


class TradeLog(TestCase):
    """The log of a converter and its gauge (common practice): input to output in Hz, and where the needle stood."""

    RATIO = ((50, 43.5), (150, 131), (950, 822))
    NEEDLE = ((150, 28), (350, 67), (950, 180))

    def test_one_fraction_makes_all_three_frequencies(self) -> None:
        wanted = float(np.mean([out / given for given, out in self.RATIO]))
        converter = {"target_pulses_per_km": 19_000 * wanted, "max_numerator": 100, "max_denominator": 100}
        ring = installation(
            CAR, target__count=32, wheel={"method": "entered", "entered": {"circumference_mm": 32e6 / 19_000}}
        )
        evaluation = evaluate(
            ring.model_copy(update={"signal": installation(CAR, signal={"converter": converter}).signal})
        )
        conversion = evaluation.signal_detail.conversion
        assert conversion is not None
        for given_hz, out_hz in self.RATIO:
            self.assertAlmostEqual(given_hz * conversion.ratio, out_hz, delta=0.01 * out_hz)

    def test_the_needle_fits_about_32_pulses_a_turn_of_a_195_45_14(self) -> None:
        slope = stats.linregress([hz for hz, _ in self.NEEDLE], [kmh for _, kmh in self.NEEDLE]).slope
        per_km = 3600 / slope
        tyre = evaluate(installation(CAR, wheel__marking__text="195/45R14"))
        per_turn = per_km * tyre.stages[0].value / 1e6
        self.assertAlmostEqual(per_turn, 32, delta=0.06 * 32)  # a needle is read to some km/h
        gauge = Gauge(pulses_per_km=float(per_km), scale_end_kmh=240)
        for hz, kmh in self.NEEDLE:
            self.assertAlmostEqual(float(needle_kmh(gauge, np.array([hz]))[0]), kmh, delta=2.5)


def by_events(edges: list[float], readout: Any, hz_to_kmh: float, at_s: float) -> float:
    """A reader simulated pulse by pulse, as its firmware would do it: filter, timer, average, time-out."""
    hold_off = readout.input.dead_time_ms / 1000 if readout.input else 0.0
    kept: list[float] = []
    shown = 0.0
    for edge in edges:
        if edge > at_s:
            break
        if kept and edge - kept[-1] < hold_off:
            continue
        kept.append(edge)
        k = readout.timing.pulses_averaged
        if len(kept) > k:
            tick = readout.timing.timer_tick_us * 1e-6
            ticks = max(round((kept[-1] - kept[-1 - k]) / tick), 1)
            shown = k / (ticks * tick) * hz_to_kmh
    if readout.timing.time_out_s is not None and kept and at_s - kept[-1] > readout.timing.time_out_s:
        shown = 0.0
    if readout.timing.minimum_kmh is not None and shown < readout.timing.minimum_kmh:
        shown = 0.0
    return shown


class Reader(TestCase):
    @settings(max_examples=60)
    @given(
        st.floats(3, 300),
        st.sampled_from([("period", 1), ("period", 4), ("gate", 1)]),
        st.integers(2, 200),
        st.floats(0.1, 2),
    )
    def test_a_clean_chain_is_decoded_true_within_its_resolution(
        self, speed: float, how: tuple[str, int], count: int, gate: float
    ) -> None:
        timing = {"method": how[0], "pulses_averaged": how[1], "gate_s": gate, "timer_tick_us": 4}
        car = installation(
            CAR, target__count=count, readouts__0={
                "name": "Logger", "encoding": "mm_per_pulse", "step": 0.0001, "display_step_kmh": 0.001,
                "timing": timing,
            }, purpose="slip_control",
        )  # fmt: skip
        evaluation = evaluate(car)
        hz = speed * evaluation.pulses_per_km / 3600
        frame = bench_moment(car, evaluation, steady(speed))
        if how[0] == "gate":
            resolution = gate_resolution_kmh(evaluation.pulses_per_km, gate)
        else:
            resolution = period_resolution_kmh(speed, evaluation.pulses_per_km, 4, how[1])
        implied = evaluation.readouts[0].in_use.error_pct / 100 * speed
        self.assertAlmostEqual(
            frame.readers[0].shown_kmh, speed + implied, delta=1.001 * resolution + 0.0006 + 1e-6 * speed
        )
        self.assertEqual((frame.missed, frame.false), (0, 0), hz)

    @settings(max_examples=60)
    @given(
        st.lists(st.floats(0.0002, 0.4), min_size=2, max_size=60),
        st.integers(1, 5),
        st.sampled_from([0.0, 1.0, 20.0]),
        st.sampled_from([None, 0.3]),
        st.sampled_from([None, 40.0]),
    )
    def test_the_decoder_against_a_reader_simulated_pulse_by_pulse(
        self, spans: list[float], averaged: int, hold_off: float, time_out: float | None, minimum: float | None
    ) -> None:
        edges = np.cumsum(spans)
        timing = {"pulses_averaged": averaged, "time_out_s": time_out, "minimum_kmh": minimum, "timer_tick_us": 50}
        car = installation(CAR, readouts__0={
            "name": "Dash", "encoding": "pulses_per_km", "display_step_kmh": 0.001, "timing": timing,
            "input": {"dead_time_ms": hold_off, "pull_up_ohm": 4700},
        })  # fmt: skip
        evaluation = evaluate(car)
        readout, seen = car.readouts[0], evaluation.readouts[0]
        line = line_of(car, evaluation, Faults())
        from speedchain.bench.simulation import Edges

        counted = at_the_reader(line, readout, Edges(edges, edges, np.full(edges.size, math.inf)))
        at = np.sort(np.concatenate([np.linspace(0, edges[-1] + 1, 40), edges[1::3] + 1e-7]))
        shown = shown_by(readout, seen, counted, at)
        for time, value in zip(at.tolist(), shown.tolist(), strict=True):
            expected = by_events(edges.tolist(), readout, 3600 / seen.set_pulses_per_km, time)
            self.assertAlmostEqual(value, expected, delta=0.0006 + 1e-9 * expected)


class RatioConverter(TestCase):
    @settings(max_examples=60)
    @given(st.floats(0.02, 4), st.integers(1, 6), st.one_of(st.none(), st.floats(20, 400)), st.integers(20, 300))
    def test_its_pulses_against_a_counter_stepped_edge_by_edge(
        self, ratio: float, averaged: int, cap: float | None, count: int
    ) -> None:
        random = np.random.default_rng(count)
        edges = np.cumsum(random.uniform(0.002, 0.02, count))
        out: list[float] = []
        phase = 0.0
        for place in range(averaged + 1, count):
            span = edges[place] - edges[place - 1]
            rate = ratio * averaged / (edges[place - 1] - edges[place - 1 - averaged])
            step = span * (rate if cap is None else min(rate, cap))
            while phase + step >= len(out) + 1 - 1e-9:
                out.append(edges[place - 1] + span * (len(out) + 1 - phase) / step)
                phase += 0.0
            phase += step
        np.testing.assert_allclose(converted(edges, ratio, cap, averaged)[: len(out)], out, atol=1e-6)
        self.assertLessEqual(abs(converted(edges, ratio, cap, averaged).size - len(out)), 1)

    def test_a_steady_input_comes_out_at_the_ratio_and_at_the_cap(self) -> None:
        edges = np.arange(2000) / 500.0
        for ratio in (0.125, 0.87, 3.1):
            out = converted(edges, ratio, None)
            self.assertAlmostEqual(1 / float(np.mean(np.diff(out))), 500 * ratio, delta=1e-6 * 500 * ratio)
        self.assertAlmostEqual(1 / float(np.mean(np.diff(converted(edges, 3.1, 900.0)))), 900, places=4)

    def test_two_stages_against_all_there_are(self) -> None:
        """Brute force over every pair of fractions."""
        for wanted in (0.8741, 1 / 91, 3.14159, 0.0123):
            every = sorted({p / q for p in range(1, 9) for q in range(1, 13)})
            stages = best_chain(wanted, 8, 12)
            best = min(abs(a * b / wanted - 1) for a, b in itertools.product(every, every))
            got = math.prod(stage.numerator / stage.denominator for stage in stages) / wanted - 1
            self.assertAlmostEqual(abs(got), best, places=12)
            self.assertAlmostEqual(got * 1e6, stages[-1].error_ppm, places=6)


class Card(TestCase):
    def test_the_line_is_that_of_numpy(self) -> None:
        """`numpy.polyfit` and its covariance on the same points."""
        points = [(20, 24), (40, 43), (60, 66), (80, 86), (100, 108), (120, 127)]
        car = installation(CAR, readouts__0__card=[{"speed_kmh": v, "read_kmh": r} for v, r in points])
        line = card_of(car, evaluate(car)).line
        assert line is not None
        (slope, intercept), covariance = np.polyfit(*zip(*points, strict=True), 1, cov=True)
        self.assertAlmostEqual(line.scale, slope, places=9)
        self.assertAlmostEqual(line.offset_kmh, intercept, places=9)
        factor = stats.t.ppf(0.97725, 4)  # six readings, two of them for the line; scipy.stats
        assert line.scale_expanded is not None
        assert line.offset_expanded_kmh is not None
        for got, variance in ((line.scale_expanded, covariance[0, 0]), (line.offset_expanded_kmh, covariance[1, 1])):
            self.assertAlmostEqual(
                got / factor, np.sqrt(variance), delta=0.1 * np.sqrt(variance)
            )  # scatter of 1.4 steps

    def test_few_readings_against_quadrature(self) -> None:
        """The normal's share within ±, averaged over ln σ by `scipy.integrate.quad`, is 95.45 %; Student's t
        (scipy.stats) where the residuals are far above the step."""
        speeds = [30.0, 60.0, 90.0, 120.0]
        for readings, step in (([31, 62, 92, 124], 1.0), ([31, 62, 93, 124], 1.0), ([31.0, 70.0, 90.0, 131.0], 0.5)):
            line = self.read(speeds, [float(value) for value in readings], step)
            left = np.polyfit(speeds, readings, 1, full=True)[1]
            squares = float(left[0]) if left.size else 0.0
            most = max(10 * step, 3 * np.sqrt(squares / 2))

            def density(log: float, squares: float = squares, step: float = step) -> float:
                spread = np.exp(2 * log) + step**2 / 12
                return float(np.exp(-squares / 2 / spread) / spread)  # σ to the power of the two degrees of freedom

            def share(log: float, within: float, step: float = step) -> float:
                return float(stats.norm.cdf(within / np.sqrt(np.exp(2 * log) + step**2 / 12)) * 2 - 1)

            within = line.scale_expanded * np.sqrt(4500)  # Σ(v − v̄)² = 45² + 15² + 15² + 45²
            ends = (np.log(0.1 * step), np.log(most))
            whole = integrate.quad(density, *ends)[0]
            inside = integrate.quad(lambda log, w=within, s=share, d=density: s(log, w) * d(log), *ends)[0]
            self.assertAlmostEqual(inside / whole, 0.9545, delta=0.003)
        wide = self.read(
            [20.0, 40.0, 60.0, 80.0, 100.0, 120.0, 140.0, 160.0], [22, 35, 70, 71, 118, 113, 140, 171], 0.01
        )
        found = stats.linregress([20, 40, 60, 80, 100, 120, 140, 160], [22, 35, 70, 71, 118, 113, 140, 171])
        self.assertAlmostEqual(wide.scale_expanded / (stats.t.ppf(0.97725, 6) * found.stderr), 1, delta=0.02)

    def read(self, speeds: list[float], readings: list[float], step_kmh: float) -> Any:
        points = [{"speed_kmh": v, "read_kmh": r} for v, r in zip(speeds, readings, strict=True)]
        car = installation(CAR, readouts__0__card=points, readouts__0__display_step_kmh=step_kmh)
        return card_of(car, evaluate(car)).line

    def test_its_range_holds_the_truth_however_few_readings_there_are(self) -> None:
        """A dial 3 % high, 1 km/h off, read with σ = 0.7 km/h to whole km/h: 93 % and more of the lines within their ±;
        of two readings there is none."""
        random = np.random.default_rng(27)
        self.assertIsNone(self.read([40.0, 100.0], [42.0, 104.0], 1.0).scale_expanded)
        tries = sized(2000, 250)
        for count in (3, 4, 5, 8):
            speeds = np.linspace(30, 130, count).round()
            held = 0
            for _ in range(tries):
                readings = np.round(1 + 1.03 * speeds + random.normal(0, 0.7, count))
                line = self.read(speeds.tolist(), readings.tolist(), 1.0)
                held += abs(line.scale - 1.03) <= line.scale_expanded
            self.assertGreaterEqual(held / tries, 0.93, count)

    def test_readings_on_a_line_are_no_surer_than_the_steps_of_the_display(self) -> None:
        """20, 40, … shown exactly in steps of 2 km/h: at least 2 u of the slope, u = 2/√12 km/h over √Σ(v − v̄)², and
        no more than Student's factor on it."""
        speeds = [20.0, 40.0, 60.0, 80.0, 100.0]
        line = self.read(speeds, speeds, 2.0)
        of_step = 2 / np.sqrt(12) / np.sqrt(4000)
        self.assertTrue(
            2 * of_step < line.scale_expanded < stats.t.ppf(0.97725, 3) * of_step, line.scale_expanded / of_step
        )

    @settings(max_examples=40)
    @example(-10.0, -3, "stops", 178.0)  # the last reading is just above the one before
    @given(st.floats(-12, 12), st.integers(-6, 6), st.sampled_from(["stops", "wraps"]), st.floats(90, 180))
    def test_a_gauge_that_is_off_is_found_out_and_put_right(
        self, scale: float, offset: float, past: str, end: float
    ) -> None:
        """The stand-in's own errors, unknown to the card, are found from what its needle says."""
        hidden = Gauge.model_validate(
            {"pulses_per_km": 16_000, "scale_pct": scale, "offset_kmh": offset, "scale_end_kmh": end, "past_end": past,
             "readable_kmh": 0.5}
        )  # fmt: skip
        reading = {"name": "Gauge", "encoding": "pulses_per_km", "current_setting": 16_000, "display_step_kmh": 0.5}
        car = installation(CAR, readouts__0=reading, signal={"converter": {"target_pulses_per_km": 16_000}})
        speeds = np.arange(20.0, 221, 20)
        evaluation = evaluate(car)
        conversion = evaluation.signal_detail.conversion
        assert conversion is not None
        needles = needle_kmh(hidden, speeds * evaluation.pulses_per_km / 3600 * conversion.ratio)
        points = [{"speed_kmh": v, "read_kmh": r} for v, r in zip(speeds.tolist(), needles.tolist(), strict=True)]
        car = installation(
            CAR, readouts__0=reading | {"card": points}, signal={"converter": {"target_pulses_per_km": 16_000}}
        )
        card = card_of(car, evaluate(car))
        assert card.line is not None
        assert card.next is not None
        self.assertAlmostEqual(100 * (card.line.scale - 1), scale, delta=2.0)
        self.assertAlmostEqual(card.line.offset_kmh, offset, delta=1.5)
        self.assertEqual(card.line.wraps, past == "wraps")
        assert card.line.scale_end_kmh is not None
        step = 20 * (1 + scale / 100)
        self.assertLessEqual(card.line.scale_end_kmh, end + 0.5)
        self.assertGreater(card.line.scale_end_kmh, end - step - 0.5)
        p, q = (int(part) for part in card.next.text.split("/"))
        corrected = needle_kmh(hidden, np.array([60.0]) * evaluation.pulses_per_km / 3600 * p / q)
        self.assertAlmostEqual(float(corrected[0]), 60 + offset, delta=2.0)


class Whole(TestCase):
    def test_a_sweep_misses_from_where_the_coil_is_too_weak(self) -> None:
        """V ∝ f: what the coil's own closed form says, found by counting pulses."""
        coil = installation(
            CAR, sensor={"kind": "variable_reluctance", "needs": {"min_speed_kmh": 5, "max_speed_kmh": 200}},
            signal={"vr": {"measured_vpp": 0.5, "at_hz": 100},
                "conditioner": {"kind": "vr_converter", "arming_v": 0.5}},
        )  # fmt: skip
        evaluation = evaluate(coil)
        assert evaluation.signal_detail.coil is not None
        lowest = evaluation.signal_detail.coil.min_speed_kmh
        for speed, seen in ((0.9 * lowest, False), (1.1 * lowest, True)):
            frame = bench_moment(coil, evaluation, steady(speed))
            self.assertEqual(frame.missed == 0, seen)
            self.assertEqual(frame.readers[0].shown_kmh > 0, seen)

    def test_faults_do_what_they_say(self) -> None:
        cycle = installation(CYCLE, target=REED)
        evaluation = evaluate(cycle)
        one = bench_moment(cycle, evaluation, steady(30, faults=Faults(missing=1)))
        self.assertAlmostEqual(one.missed / one.passed, 1 / 3, delta=0.1)
        bouncing = bench_moment(cycle, evaluation, steady(30, faults=Faults(bounce_ms=1)))
        self.assertGreater(bouncing.false, 0)
        held = installation(CYCLE, target=REED, readouts__0__input={"dead_time_ms": 3, "pull_up_ohm": 4700})
        self.assertAlmostEqual(
            bench_moment(held, evaluate(held), steady(30, faults=Faults(bounce_ms=1))).readers[0].shown_kmh, 30, delta=1
        )
        loose = bench_moment(cycle, evaluation, steady(30, faults=Faults(open_every_s=0.5, open_for_ms=250)))
        self.assertGreater(loose.missed, 0.3 * loose.passed)

    def test_a_run_in_pieces_is_the_run_in_one(self) -> None:
        car = installation(CAR)
        evaluation = evaluate(car)
        run = Run(profile=Profile.swept(10, 160, 60), seconds=60, faults=Faults(noise=0.0))
        shares: list[float] = []
        whole = run_bench(car, evaluation, run, lambda share: shares.append(share) or True)
        line, travel, edges = edges_at_once(car, evaluation, run)
        self.assertGreater(len(shares), 1)
        self.assertEqual(shares[-1], 1.0)
        self.assertEqual((whole.missed, whole.false), (0, 0))
        pieces = [
            edges_of(line, travel=travel, first=first, last=min(first + 9000, 36000), seed=0).given_s
            for first in range(0, 36000, 9000)
        ]
        joined = np.concatenate(pieces)
        np.testing.assert_allclose(joined, edges.given_s[: joined.size], atol=1e-9)

    def test_the_needle_lags_as_a_first_order_step_does(self) -> None:
        time = np.arange(0, 3, 0.01)
        value = np.where(time > 0.0, 100.0, 0.0)
        np.testing.assert_allclose(follows(time, value, 0.5), 100 * (1 - np.exp(-time / 0.5)), atol=1e-9)
