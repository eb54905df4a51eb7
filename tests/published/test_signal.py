"""Levels, thresholds, ratios and filters against linear algebra, brute force, scipy and ngspice."""

from __future__ import annotations

import itertools
import math
import re
import shutil
import subprocess
import tempfile
import warnings
from fractions import Fraction
from pathlib import Path
from typing import Any
from unittest import TestCase

import numpy as np
from scipy import signal

from speedchain.fields.errors import InputError
from speedchain.readout.decode import filtered, gated_hz, shown_at_kmh, speeds_by_period_kmh
from speedchain.readout.timing import gate_resolution_kmh, period_resolution_kmh
from speedchain.signal.levels import (
    Levels,
    current_levels,
    design_comparator,
    largest_pull_up_ohm,
    rise_time_s,
    threshold_v,
    thresholds_v,
)
from speedchain.signal.model import Signal
from speedchain.signal.path import arriving
from speedchain.signal.pwm import ladder, smoothed
from speedchain.signal.ratio import best_ratio
from speedchain.signal.series import decade, nearest
from speedchain.signal.vr import vr_range, vr_voltage_vpp
from speedchain.waveform import Pulses, waveform


def spice(netlist: str) -> dict[str, float]:
    """What ngspice, a general-purpose circuit simulator, prints for `.meas` lines."""
    program = shutil.which("ngspice")
    assert program, "ngspice is installed by ./test"
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "net.cir"
        file.write_text(netlist)
        done = subprocess.run([program, "-b", str(file)], capture_output=True, text=True, check=False, timeout=60)
    found = re.findall(r"^(\w+)\s+=\s+([-+.\deE]+)", done.stdout, re.MULTILINE)
    return {name: float(value) for name, value in found}


class Series(TestCase):
    """IEC 60063; values quoted from memory."""

    def test_neighbours_are_one_step_of_the_series_apart(self) -> None:
        for series, count in (("E6", 6), ("E12", 12), ("E24", 24), ("E96", 96)):
            values = decade(series)  # type: ignore[arg-type]
            self.assertEqual(len(values), count)
            steps = np.diff(np.log10([*values, 10])) * count
            np.testing.assert_allclose(steps, 1, atol=0.5)  # 13 to 15 is the widest

    def test_nearest_in_proportion(self) -> None:
        for value in np.geomspace(1, 1e6, 57):
            bought = nearest(float(value), "E24")
            self.assertLess(abs(math.log10(bought / value)), 0.5 * 1.5 / 24 + 1e-6)


class LevelsAndThresholds(TestCase):
    def test_trade_values(self) -> None:
        """1.86 and 3.84 V give 2.85 V; 7 and 14 mA over 100 Ω give 0.7 and 1.4 V: common practice."""
        self.assertAlmostEqual(threshold_v(1.86, 3.84), 2.85)
        result = current_levels(100)
        self.assertAlmostEqual(result.low_v, 0.7)
        self.assertAlmostEqual(result.high_v, 1.4)

    def test_a_current_output_ends_at_its_supply(self) -> None:
        """ngspice: a current source that gives out when nothing is left across it."""
        for load_ohm in (100, 500, 820, 1500):
            lead = Signal.model_validate({"lead": {"load_ohm": load_ohm}})
            found = arriving("two_wire_current", signal=lead, supply_v=12, top_hz=1000, reader_pull_up=None)
            assert found.levels is not None
            for current_ma, level_v in ((7, found.levels.low_v), (14, found.levels.high_v)):
                netlist = f"""two-wire sensor
                V1 supply 0 12
                B1 supply out I={current_ma}m*tanh(V(supply,out)/0.001)
                R1 out 0 {load_ohm}
                .tran 1u 10u
                .meas tran level find v(out) at=5u
                .end"""
                self.assertAlmostEqual(spice(netlist)["level"], level_v, delta=0.005)

    def test_thresholds_against_solving_the_network(self) -> None:
        """Node equations of the input network, solved as linear equations."""
        for r1, r2, r_in, r_fb in ((10e3, 10e3, 10e3, 100e3), (12e3, 10e3, 4.7e3, 47e3)):
            reference = 5 * r2 / (r1 + r2)
            for out, threshold in zip(
                (0.0, 5.0),
                thresholds_v(5.0, r1=r1, r2=r2, r_in=r_in, r_feedback=r_fb, out_low_v=0.0, out_high_v=5.0),
                strict=True,
            ):
                # unknown: signal s such that the node between r_in and r_fb is at the reference
                node = np.linalg.solve([[1 / r_in]], [[reference * (1 / r_in + 1 / r_fb) - out / r_fb]])
                self.assertAlmostEqual(float(node[0, 0]), threshold, places=9)

    def test_at_every_corner_of_tolerance_or_refused(self) -> None:
        """Random designs against the circuit solved by its node equation at every corner; half of the noise inside."""
        random = np.random.default_rng(12)
        kept = 0
        for _ in range(400):
            low, swing = random.uniform(0.2, 3), random.uniform(0.3, 4)
            supply, noise = random.uniform(4, 14), random.uniform(0.01, 0.2)
            series = str(random.choice(["E12", "E24", "E96"]))
            try:
                found = design_comparator(
                    Levels(low_v=low, high_v=low + swing), noise_v=noise, supply_v=supply, series=series
                )
            except InputError:
                continue
            kept += 1
            spread = {"E12": 0.1, "E24": 0.05, "E96": 0.01}[series]
            for a, b, c, d in itertools.product((1 - spread, 1 + spread), repeat=4):
                reference = supply * found.r2_ohm * b / (found.r1_ohm * a + found.r2_ohm * b)
                r_in, r_feedback = found.input_resistor_ohm * c, found.r_feedback_ohm * d
                # (V − ref)/r_in + (out − ref)/r_feedback = 0 at the input that switches, out 0 or the supply
                rising = reference + reference * r_in / r_feedback
                falling = reference - (supply - reference) * r_in / r_feedback
                self.assertGreater(falling, low + noise / 2 - 1e-9)
                self.assertLess(rising, low + swing - noise / 2 + 1e-9)
        self.assertGreater(kept, 100)

    def test_a_coil_needs_a_bias_or_a_vr_conditioner(self) -> None:
        with self.assertRaisesRegex(InputError, "below ground.*VR conditioner"):
            design_comparator(Levels(low_v=-3, high_v=3), noise_v=0.05, supply_v=5)

    def test_designed_thresholds_lie_inside_the_levels_with_all_tolerances(self) -> None:
        for levels in (Levels(low_v=1.86, high_v=3.84), Levels(low_v=0.7, high_v=1.4), Levels(low_v=0.2, high_v=4.8)):
            result = design_comparator(levels, noise_v=0.05, supply_v=5.0, series="E96")
            self.assertLess(result.rising_high_v, levels.high_v)
            self.assertGreater(result.falling_low_v, levels.low_v)
            self.assertGreater(result.rising_v, result.falling_v)
        with self.assertRaisesRegex(InputError, "four times the noise"):
            design_comparator(Levels(low_v=1.0, high_v=1.3), noise_v=0.1, supply_v=5.0)
        with self.assertRaisesRegex(InputError, "outside the supply"):
            design_comparator(Levels(low_v=8.0, high_v=12.0), noise_v=0.1, supply_v=5.0)

    def test_comparator_switches_in_ngspice_where_it_was_designed_to(self) -> None:
        result = design_comparator(Levels(low_v=1.86, high_v=3.84), noise_v=0.1, supply_v=5.0)
        net = f"""comparator
V1 vcc 0 5
Vs in 0 PWL(0 0 1 5 2 0)
R1 vcc ref {result.r1_ohm}
R2 ref 0 {result.r2_ohm}
R3 in plus {result.input_resistor_ohm}
R4 plus out {result.r_feedback_ohm}
B1 o1 0 V = 2.5 + 2.5*tanh(20000*(V(plus)-V(ref)))
R5 o1 out 1
C1 out 0 1u
.tran 0.2m 2
.meas tran rising FIND V(in) WHEN V(out)=2.5 RISE=1
.meas tran falling FIND V(in) WHEN V(out)=2.5 FALL=1
.end
"""
        found = spice(net)
        self.assertAlmostEqual(found["rising"], result.rising_v, delta=0.02)
        self.assertAlmostEqual(found["falling"], result.falling_v, delta=0.02)

    def test_rise_time_against_scipy(self) -> None:
        ohm, farad = 10_000.0, 1e-9
        times, out = signal.step(([1], [ohm * farad, 1]), T=np.linspace(0, 1e-4, 100_001))
        rise = times[np.argmax(out >= 0.9)] - times[np.argmax(out >= 0.1)]
        self.assertAlmostEqual(rise_time_s(ohm, farad) / rise, 1, places=3)
        self.assertLessEqual(rise_time_s(largest_pull_up_ohm(5000, 2e-9), 2e-9), 0.1 / 5000)


class Ratios(TestCase):
    def test_best_ratio_against_trying_all(self) -> None:
        random = np.random.default_rng(4)
        for _ in range(300):
            most_p, most_q = (int(n) for n in random.integers(5, 120, 2))
            wanted = float(random.uniform(1 / most_q, most_p))
            result = best_ratio(wanted, most_p, most_q)
            self.assertLessEqual(result.numerator, most_p)
            self.assertLessEqual(result.denominator, most_q)
            best = min(
                abs(p / q / wanted - 1)
                for q in range(1, most_q + 1)
                for p in {max(1, min(most_p, math.floor(wanted * q))), max(1, min(most_p, math.ceil(wanted * q)))}
            )
            self.assertLessEqual(abs(result.error_ppm), 1e6 * best * 1.05 + 1e-6)

    def test_unlimited_numerator_is_limit_denominator(self) -> None:
        for wanted in (0.87, math.pi, 2.7182818, 0.3333):
            result = best_ratio(wanted, 10**9, 50)
            self.assertEqual(Fraction(result.numerator, result.denominator), Fraction(wanted).limit_denominator(50))

    def test_trade_log(self) -> None:
        """50 → 43.5, 150 → 131, 950 → 822 Hz: one ratio within the reading error; common practice."""
        ratio = best_ratio(822 / 950, 200, 231)
        for given, read in ((50, 43.5), (150, 131)):
            self.assertAlmostEqual(given * ratio.numerator / ratio.denominator / read, 1, delta=0.012)


class Smoothing(TestCase):
    def test_steady_state_against_scipy_s_simulation(self) -> None:
        for stages, ohm, farad, load in (
            (1, 10e3, 1e-6, math.inf),
            (2, 10e3, 1e-6, math.inf),
            (2, 4.7e3, 2.2e-6, 50e3),
        ):
            a, b = ladder(ohm, farad, stages, load)
            system = signal.StateSpace(a, b[:, None], np.eye(stages)[-1:], [[0]])
            result = smoothed(5.0, duty=0.3, pwm_hz=200.0, ohm=ohm, farad=farad, stages=stages, load_ohm=load)
            times = np.arange(0, 30 * result.settling_s / 10 + 1, 1e-5)
            drive = 5.0 * ((times * 200) % 1 < 0.3)
            _, out, _ = signal.lsim(system, drive, times, interp=False)
            last = out[-5000:]
            self.assertAlmostEqual(last.mean(), result.mean_v, delta=0.01)
            self.assertAlmostEqual(np.ptp(last) / result.ripple_vpp, 1, delta=0.02)

    def test_cut_off_and_settling_against_scipy(self) -> None:
        a, b = ladder(10e3, 1e-6, 2)
        system = signal.StateSpace(a, b[:, None], [[0, 1]], [[0]])
        result = smoothed(5.0, duty=0.5, pwm_hz=1000.0, ohm=10e3, farad=1e-6, stages=2)
        w = 2 * math.pi * result.cutoff_hz
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", signal.BadCoefficients)  # of the leading zeros of a filter without zeros
            _, magnitude, _ = signal.bode(system, [1e-3, w])
        self.assertAlmostEqual(magnitude[0] - magnitude[1], 3.01, places=2)
        times, out = signal.step(system, T=np.linspace(0, 0.3, 30_001))
        self.assertAlmostEqual(times[np.argmax(out >= 0.99)] / result.settling_s, 1, delta=0.0005)
        for stages, load_ohm in ((1, math.inf), (2, 5e3), (2, 1e6)):
            a, b = ladder(10e3, 1e-6, stages, load_ohm)
            row = [[0.0] * (stages - 1) + [1.0]]
            times, out = signal.step(signal.StateSpace(a, b[:, None], row, [[0]]), T=np.linspace(0, 0.3, 30_001))
            exact = smoothed(
                5.0, duty=0.5, pwm_hz=1e3, ohm=10e3, farad=1e-6, stages=stages, load_ohm=load_ohm
            ).settling_s
            self.assertAlmostEqual(times[np.argmax(out >= 0.99 / (1 + stages * 10e3 / load_ohm))], exact, delta=2e-5)

    def test_two_stages_in_ngspice(self) -> None:
        result = smoothed(5.0, duty=0.4, pwm_hz=500.0, ohm=10_000.0, farad=1e-6, stages=2, load_ohm=100_000.0)
        net = """filter
V1 in 0 PULSE(0 5 0 1n 1n 0.8m 2m)
R1 in a 10k
C1 a 0 1u
R2 a out 10k
C2 out 0 1u
R3 out 0 100k
.tran 10u 1 0.9 10u
.meas tran mean AVG V(out) FROM=0.9 TO=1
.meas tran most MAX V(out) FROM=0.9 TO=1
.meas tran least MIN V(out) FROM=0.9 TO=1
.end
"""
        found = spice(net)
        self.assertAlmostEqual(found["mean"], result.mean_v, delta=0.005)
        self.assertAlmostEqual((found["most"] - found["least"]) / result.ripple_vpp, 1, delta=0.03)


class VariableReluctance(TestCase):
    def test_voltage_against_faraday_s_law(self) -> None:
        """The peak-to-peak of a flux of fixed swing, differentiated numerically, grows with its frequency."""
        for hz in (50.0, 400.0):
            times = np.linspace(0, 0.2, 400_001)
            flux = 3e-3 * np.sin(2 * math.pi * hz * times)
            made = np.ptp(np.gradient(flux, times))
            at_100 = 2 * 3e-3 * 2 * math.pi * 100
            self.assertAlmostEqual(
                vr_voltage_vpp(at_100, measured_hz=100, at_hz=hz) / made,
                1,
                places=3,
            )

    def test_a_tap_without_clamp_is_too_much_at_speed(self) -> None:
        result = vr_range(3.0, measured_hz=150, top_hz=3000, arming_v=0.3, max_input_vpp=40.0)
        self.assertEqual(result.at_top_vpp, 60)
        self.assertEqual(result.too_much_from_hz, 2000)
        self.assertEqual(result.lowest_hz, 30)


class Decoding(TestCase):
    """The reader against a simulation that looks at one event after the other."""

    @staticmethod
    def edges(speed_kmh: float, per_km: float, seconds: float, wobble: float = 0.0) -> Any:
        random = np.random.default_rng(5)
        gap = 3600 / (speed_kmh * per_km)
        return np.cumsum(gap * (1 + random.uniform(-wobble, wobble, int(seconds / gap))))

    def test_period_timing_event_by_event(self) -> None:
        edges, result, k, tick = self.edges(60, 900, 20, 0.2), 905.0, 3, 4e-6
        expected = []
        for place in range(k, len(edges)):
            ticks = round((edges[place] - edges[place - k]) / tick)
            expected.append(3600 * k / (result * ticks * tick))
        np.testing.assert_allclose(speeds_by_period_kmh(edges, result, k, tick), expected, rtol=1e-9)

    def test_gate_counting_event_by_event(self) -> None:
        edges, gate = self.edges(60, 900, 20, 0.2), 0.5
        counts = [0] * int(edges[-1] / gate)
        for edge in edges:
            if int(edge / gate) < len(counts):
                counts[int(edge / gate)] += 1
        expected = [count / gate for count in counts]
        expected[0] = 0.0  # the first gate that counts begins after the first edge
        ends = (1 + np.arange(len(counts))) * gate
        np.testing.assert_allclose(gated_hz(ends, edges, gate), expected)
        np.testing.assert_allclose(gated_hz(ends + 0.9 * gate, edges, gate), expected, err_msg="held until the next")

    def test_filter_event_by_event(self) -> None:
        random = np.random.default_rng(6)
        for shortest in (0.0005, 0.003, 0.02):
            edges = np.sort(random.uniform(0, 1, 400))
            kept = [edges[0]]
            for edge in edges[1:]:
                if edge - kept[-1] >= shortest:
                    kept.append(edge)
            np.testing.assert_array_equal(filtered(edges, shortest), kept)

    def test_display_with_time_out_event_by_event(self) -> None:
        edges = np.concatenate([self.edges(40, 900, 3), 9 + self.edges(20, 900, 3)])
        speeds = speeds_by_period_kmh(edges, 900.0)
        at = np.linspace(0, 16, 1601) + 1e-6
        expected = []
        for moment in at:
            before = [edge for edge in edges if edge <= moment]
            if len(before) < 2 or moment - before[-1] > 1.5:
                expected.append(0.0)
            else:
                expected.append(3600 / (900.0 * (before[-1] - before[-2])))
        np.testing.assert_allclose(
            shown_at_kmh(at, renewed_s=edges[1:], speeds_kmh=speeds, edges_s=edges, time_out_s=1.5), expected, rtol=1e-9
        )

    def test_a_clean_chain_reads_true_within_its_resolution(self) -> None:
        for speed in (5.0, 33.3, 120.0, 240.0):
            for per_km in (480.0, 1909.0, 24_900.0):
                edges = self.edges(speed, per_km, 10)
                tick = 4e-6
                allowed = period_resolution_kmh(speed, per_km, tick * 1e6) + 1e-9
                off = np.abs(speeds_by_period_kmh(edges, per_km, 1, tick) - speed)
                self.assertLessEqual(float(off.max()), 1.01 * allowed)
                gates = gated_hz(np.arange(1.0, edges[-1], 0.5), edges, 0.5) * 3600 / per_km
                self.assertLessEqual(float(np.abs(gates - speed).max()), gate_resolution_kmh(per_km, 0.5) + 1e-9)

    def test_bounce_counts_double_until_it_is_filtered(self) -> None:
        result = waveform(
            Pulses(3, width_deg=20, threshold=0.5, bounce_s=0.0008),
            np.linspace(0, 10, 400_001),
            turns_per_s=8.0,
            start_turns=-0.1,
        )
        per_km = 3 * 1e6 / 1563
        clean = filtered(result.rising_s, 0.002)
        self.assertGreater(len(result.rising_s), 1.9 * len(clean))
        mean = float((gated_hz(np.arange(2.0, 9.9), clean, 1.0) * 3600 / per_km).mean())
        self.assertAlmostEqual(mean, 8.0 * 1.563 * 3.6, delta=0.5)
