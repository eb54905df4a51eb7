"""Strength, fields and chances of a sensor before its target, against integration, magpylib and closed forms."""

from __future__ import annotations

import math
from dataclasses import replace
from unittest import TestCase

import magpylib
import numpy as np
from scipy import integrate, stats

from speedchain.placement.field import along_blade_mt, field_mt
from speedchain.placement.geometry import geometry_of
from speedchain.placement.model import Placement
from speedchain.placement.probability import chance_of, chances, wilson_interval
from speedchain.placement.strength import (
    aperture_loss,
    axial_capture,
    bias_modulation,
    depth_share,
    image_field,
    pair_strength,
    spacing_loss,
    strip_strength,
    tooth_share,
)
from speedchain.sensor import USUAL, Sensor
from speedchain.sensor.kinds import WORDS
from speedchain.target.model import Magnets, Ring, Target

PRACTICE = Magnets()  # an ordinary ferrite spoke magnet, 8 × 6 mm: common practice


class Strength(TestCase):
    """Wallace's spacing loss and the aperture of a reading head, Bell System Technical Journal 1951 (from memory)."""

    def test_spacing_loss_is_54_6_db_for_each_wavelength(self) -> None:
        for pitch in (2.0, 6.3, 20.0):
            self.assertAlmostEqual(float(-20 * np.log10(spacing_loss(pitch, pitch))), 54.6, places=1)
            self.assertAlmostEqual(float(-20 * np.log10(spacing_loss(0.1 * pitch, pitch))), 5.46, places=2)

    def test_aperture_null_and_first_values(self) -> None:
        self.assertAlmostEqual(float(aperture_loss(6.0, 6.0)), 0, places=12)
        self.assertAlmostEqual(float(aperture_loss(12.0, 6.0)), 0, places=12)
        self.assertAlmostEqual(float(-20 * np.log10(aperture_loss(3.0, 6.0))), 3.92, places=2)  # 2/π

    def test_strip_against_integration_of_the_field_over_its_face(self) -> None:
        """|∫∫ exp(ikx)| over the turned rectangle, by scipy, where all of it is over a wide face."""
        length, width, pitch = 3.0, 0.8, 5.0
        for angle in (0.0, 25.0, 60.0, 90.0):
            c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
            k = 2 * math.pi / pitch
            real = integrate.dblquad(
                lambda v, u, c=c, s=s, k=k: math.cos(k * (u * c - v * s)),
                -length / 2,
                length / 2,
                -width / 2,
                width / 2,
            )[0]
            self.assertAlmostEqual(
                abs(real) / (length * width),
                float(strip_strength(0.0, angle, length_mm=length, width_mm=width, pitch_mm=pitch, face_mm=100.0)),
                places=6,
            )

    def test_capture_against_counting_points(self) -> None:
        random = np.random.default_rng(3)
        for offset in (0.0, 1.0, 2.2, 3.0):
            points = offset + random.uniform(-1.5, 1.5, 200_000)
            self.assertAlmostEqual(
                float(axial_capture(offset, 3.0, 4.0)), float(np.mean(np.abs(points) < 2.0)), delta=0.005
            )

    def test_a_strip_partly_over_the_face(self) -> None:
        """|∬ exp(ikx)| over the part of the turned rectangle that is over the face, by counting 400 000 points of a
        quasi-random sequence (`scipy.stats.qmc`)."""
        length, width, face, pitch = 3.0, 0.5, 2.0, 6.3
        sequence = stats.qmc.Halton(2, seed=1).random(400_000) - 0.5
        u, v = length * sequence[:, 0], width * sequence[:, 1]
        for angle in (0.0, 15.0, 30.0, 60.0, 89.0):
            c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
            for offset in (0.0, 0.5, 0.9, 1.3, 2.0):
                over = np.abs(offset + u * s + v * c) < face / 2
                exact = abs(np.mean(np.exp(2j * math.pi * (u * c - v * s) / pitch) * over))
                ours = strip_strength(offset, angle, length_mm=length, width_mm=width, pitch_mm=pitch, face_mm=face)
                self.assertAlmostEqual(float(ours), exact, delta=0.002, msg=f"{angle}° at {offset} mm")

    def test_poles_allow_a_gap_in_proportion_to_their_pitch(self) -> None:
        """Without a bias magnet the spacing loss alone decides: rated 2.0 mm at 5 mm pitch, 1.0 mm at half of it."""
        gaps = []
        for scale in (1.0, 0.5):
            facts = USUAL["hall_differential"]
            facts = facts.model_copy(
                update={"rated_pitch_mm": 5.0 * scale, "rated_air_gap_mm": 2.0 * scale,
                    "element_spacing_mm": 2.5 * scale,
                        "element_length_mm": 0.3 * scale, "element_width_mm": 0.3 * scale}
            )  # fmt: skip
            ring = Ring(diameter_mm=48 * 5.0 * scale / math.pi, face_width_mm=50)
            target = Target(kind="multipole_ring", count=48, ring=ring)
            geometry = geometry_of(target, Sensor(kind="hall_differential", facts=facts), Placement())
            assert geometry is not None
            gaps.append(geometry.allowed_gap_mm())
        self.assertAlmostEqual(gaps[0], 2.0, places=6)
        self.assertAlmostEqual(gaps[1], 1.0, places=6)

    def test_the_image_of_the_bias_magnet_against_magpylib(self) -> None:
        """A cylinder of 6 × 4 mm and 1 T, element 0.5 mm before its face and 0.8 mm inside the tip: `magpylib`'s field
        of the mirrored magnet. Teeth 3 mm deep: 119 mT at 0.2 mm, 56 at 1.0, 28 at 1.8, 6.8 at 4, 2.6 at 6, 0.07 at
        20."""
        magnet = magpylib.magnet.Cylinder(polarization=(0, 0, 1), dimension=(0.006, 0.004))
        for gap, known_mt in ((0.2, 119), (1.0, 56), (1.8, 28), (4.0, 6.8), (6.0, 2.6), (20.0, 0.07)):
            found = []
            for distance in (gap, gap + 3.0):
                from_face = 2 * (distance + 0.8) + 0.5
                field = magpylib.getB(magnet, (0, 0, (from_face + 2.0) / 1000))[2]
                self.assertAlmostEqual(float(image_field(distance, 12.0)), float(field), places=9)
                found.append(1000 * float(field))
            self.assertAlmostEqual((found[0] - found[1]) / known_mt, 1, delta=0.06)
            coarse = bias_modulation(gap, pitch_mm=1e6, depth_mm=3.0, body_diameter_mm=12.0)
            self.assertAlmostEqual(1000 * float(coarse), found[0] - found[1], places=3)

    def test_no_tooth_is_so_coarse_that_it_is_seen_from_far_away(self) -> None:
        """A single Hall element rated 1.8 mm at 6.3 mm: at most twice that is claimed, whatever the pitch; its field at
        20 mm is a thousandth."""
        facts = USUAL["hall_gear_tooth"]
        for pitch in (6.3, 12.0, 40.0, 200.0):
            ring = Ring(diameter_mm=12 * pitch / math.pi, tooth_depth_mm=10, face_width_mm=20)
            target = Target(count=12, ring=ring)
            geometry = geometry_of(target, Sensor(kind="hall_gear_tooth"), Placement(air_gap_mm=20))
            assert geometry is not None
            self.assertLess(geometry.strengths().drawn, 1, pitch)
            self.assertLessEqual(geometry.allowed_gap_mm(), 2 * facts.rated_air_gap_mm)
            self.assertGreater(geometry.allowed_gap_mm(), 0.9 * facts.rated_air_gap_mm)
        field = [float(bias_modulation(gap, pitch_mm=1e6, depth_mm=3.0, body_diameter_mm=12)) for gap in (1.8, 20)]
        self.assertLess(field[1] / field[0], 0.003)

    def test_the_rating_is_met_at_the_rating(self) -> None:
        """Of deep teeth as wide as their gaps, each kind before iron is rated for what it then sees: ratio 1."""
        for kind in ("hall_gear_tooth", "hall_differential", "magnetoresistive", "variable_reluctance"):
            facts = USUAL[kind]
            ring = Ring(diameter_mm=60 * facts.rated_pitch_mm / math.pi, face_width_mm=60, tooth_depth_mm=40)
            sensor = Sensor(kind=kind)
            geometry = geometry_of(Target(count=60, ring=ring), sensor, Placement(air_gap_mm=facts.rated_air_gap_mm))
            assert geometry is not None
            self.assertAlmostEqual(geometry.strengths().drawn, 1, delta=0.01, msg=kind)

    def test_narrow_teeth_give_less(self) -> None:
        """The first harmonic of a square row by `numpy.fft`: sin(π·w/p)."""
        for share in (0.5, 0.3, 0.2, 0.1):
            row = (np.arange(4096) < 4096 * share).astype(float)
            harmonic = 2 * np.abs(np.fft.rfft(row))[1] / 4096
            self.assertAlmostEqual(tooth_share(6.0 * share, 6.0), harmonic / (2 / math.pi), delta=0.001)
        wide, narrow = (
            geometry_of(
                Target(count=48, ring=Ring(diameter_mm=98, tooth_width_mm=width)),
                Sensor(kind="hall_gear_tooth"),
                Placement(air_gap_mm=1),
            )
            for width in (3.2, 1.0)
        )
        assert wide is not None
        assert narrow is not None
        self.assertLess(narrow.strengths().drawn, 0.6 * wide.strengths().drawn)

    def test_deep_teeth_of_din_867_lose_next_to_nothing(self) -> None:
        self.assertGreater(float(depth_share(2.25, math.pi)), 0.98)

    def test_quarter_turn_helps_a_single_element_before_a_narrow_ring(self) -> None:
        """Common practice: noisy though it looks centred: a quarter turn first."""
        for offset in (1.0, 1.4, 1.8):
            along, across = strip_strength(
                offset, np.array([0.0, 90.0]), length_mm=3.0, width_mm=0.5, pitch_mm=6.3, face_mm=2.0
            )
            self.assertGreater(across, along)
        self.assertEqual(float(strip_strength(1.6, 0.0, length_mm=3.0, width_mm=0.5, pitch_mm=6.3, face_mm=2.0)), 0.0)

    def test_quarter_turn_kills_a_differential_pair(self) -> None:
        for pitch in (4.0, 5.0, 6.3):
            with_row, across = pair_strength(
                0.0, np.array([0.0, 90.0]), element_spacing_mm=2.5, element_mm=0.3, pitch_mm=pitch, face_mm=10.0
            )
            self.assertGreater(with_row, 0.9)
            self.assertLess(across, 1e-9)

    def test_pair_against_the_difference_of_two_sines(self) -> None:
        pitch, pair = 5.5, 2.5
        x = np.linspace(0, pitch, 2001)
        for angle in (0.0, 30.0, 70.0):
            apart = pair * math.cos(math.radians(angle))
            signal = np.sin(2 * math.pi * (x + apart / 2) / pitch) - np.sin(2 * math.pi * (x - apart / 2) / pitch)
            element = float(aperture_loss(0.3, pitch))
            self.assertAlmostEqual(
                np.max(np.abs(signal)) / 2 * element,
                float(pair_strength(0.0, angle, element_spacing_mm=pair, element_mm=0.3, pitch_mm=pitch, face_mm=50.0)),
                places=5,
            )


class Fields(TestCase):
    def test_the_field_on_the_axis_against_its_closed_form(self) -> None:
        """B_r/2·((L+z)/sqrt(R²+(L+z)²) − z/sqrt(R²+z²)), in any text on magnetostatics."""
        for diameter, length, remanence in ((8, 6, 380), (10, 5, 1200), (6, 25, 1200)):
            magnet = Magnets(diameter_mm=diameter, length_mm=length, remanence_mt=remanence)
            for z in (0.5, 2.0, 10.0, 40.0):
                far, radius = z + length, diameter / 2
                closed = remanence / 2 * (far / math.hypot(radius, far) - z / math.hypot(radius, z))
                self.assertAlmostEqual(float(field_mt(magnet, 0, 0, z)) / closed, 1, delta=0.01)

    def test_tabled_field_and_blade_against_magpylib_directly(self) -> None:
        random = np.random.default_rng(1)
        shapes = (
            PRACTICE,
            Magnets(form="bar", diameter_mm=20, width_mm=8, length_mm=5),
            Magnets(form="bolt", diameter_mm=6, length_mm=20),
        )
        for one in shapes:
            strength = one.remanence_mt / 1000
            if one.form == "bar":
                size = (one.diameter_mm / 1000, one.width_mm / 1000, one.length_mm / 1000)
                source: object = magpylib.magnet.Cuboid(polarization=(0, 0, strength), dimension=size)
            else:
                source = magpylib.magnet.Cylinder(
                    polarization=(0, 0, strength), dimension=(one.diameter_mm / 1000, one.length_mm / 1000)
                )
            at = np.column_stack(
                [random.uniform(-20, 20, 200), random.uniform(-20, 20, 200), random.uniform(2, 20, 200)]
            )
            direct = 1000 * magpylib.getB(source, (at + [0, 0, one.length_mm / 2]) / 1000)[:, 2]
            np.testing.assert_allclose(field_mt(one, *at.T), direct, atol=0.15, rtol=0.02)
            for y, z, angle in ((7, 4, 90), (7, 6, 60), (3, 10, 20)):
                along = np.linspace(-7, 7, 801)
                c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
                points = np.column_stack([2 + along * c, y + along * s, np.full(801, z + one.length_mm / 2)]) / 1000
                b = 1000 * magpylib.getB(source, points)
                mean = integrate.trapezoid(b[:, 0] * c + b[:, 1] * s, along) / 14
                self.assertAlmostEqual(
                    float(along_blade_mt(one, 2.0, y, z, clocking_angle_deg=angle, blade_mm=14.0)), mean, delta=0.02
                )

    def test_gaps_of_practice_are_seen_and_ten_millimetres_are_not(self) -> None:
        """1 to 3 mm for a spoke magnet with a reed or Hall switch; common practice."""
        target = Target(kind="magnets", count=1, magnets=PRACTICE)
        for sensor, sideways in ((Sensor(kind="reed"), 7.0), (Sensor(kind="hall_switch"), 0.0)):
            for gap, seen in ((1.0, True), (2.0, True), (3.0, True), (10.0, False)):
                geometry = geometry_of(target, sensor, Placement(air_gap_mm=gap, lateral_offset_mm=sideways))
                assert geometry is not None
                self.assertEqual(geometry.strengths()[1] >= 1, seen, (sensor.kind, gap))

    def test_a_reed_closes_at_its_end_and_twice_along_the_travel(self) -> None:
        """The middle of the magnet with the bottom of the sensor; double counts: both common practice."""
        target = Target(kind="magnets", count=1, magnets=PRACTICE)

        def closures(sideways: float, clocking: float) -> int:
            geometry = geometry_of(target, Sensor(kind="reed"), Placement(air_gap_mm=2))
            assert geometry is not None
            return int(geometry.closures(sideways, clocking, 2.0))

        self.assertEqual([closures(7, 90), closures(0, 90), closures(0, 0)], [1, 0, 2])


class Chances(TestCase):
    def test_monte_carlo_against_the_closed_form_of_a_strip_along_a_narrow_ring(self) -> None:
        """With a rectangular body error and nothing else, the chance is a ratio of two lengths (JCGM 101)."""
        facts = USUAL["hall_gear_tooth"].model_copy(update={"element_width_mm": 0.05, "element_angle_tolerance_deg": 0})
        ring = Target(count=12, ring=Ring(diameter_mm=100, face_width_mm=2, runout_mm=0))
        geometry = geometry_of(
            ring,
            Sensor(kind="hall_gear_tooth", facts=facts),
            Placement(air_gap_mm=0.5, clocking_angle_deg=0, bearing_play_mm=0),
        )
        assert geometry is not None
        hits = chance_of(
            geometry, fitting_tolerance_mm=2.0, element_mm=0.0, element_angle_tolerance_deg=0.0, samples=40_000
        )
        # clean while the strip is over the face far enough that capture × the rest still reaches 1
        whole = float(geometry.ratio(0.0, 0.0, 0.5))
        edge = 1.0 + 0.025 - 0.05 / whole
        self.assertAlmostEqual(hits / 40_000, edge / 2.0, delta=0.01)

    def test_wilson_interval_against_its_equation(self) -> None:
        """E. B. Wilson, JASA 22 (1927): both ends solve |p − hits/n| = z·sqrt(p(1 − p)/n), z = 1.959964."""
        for hits, samples in ((3, 50), (25, 50), (1999, 4000)):
            for end in wilson_interval(hits, samples):
                reach = 1.959964 * (end * (1 - end) / samples) ** 0.5
                self.assertAlmostEqual(abs(end - hits / samples), reach, places=6)
        self.assertEqual(wilson_interval(0, 50)[0], 0)
        self.assertEqual(wilson_interval(50, 50)[1], 1)

    def test_narrow_ring_and_unknown_element_speak_for_the_quarter_turn_and_the_small_body(self) -> None:
        ring = Target(count=24, ring=Ring(diameter_mm=100, face_width_mm=2))
        sensor = Sensor(kind="hall_gear_tooth")
        geometry = geometry_of(ring, sensor, Placement(air_gap_mm=1.0, clocking_angle_deg=0))
        assert geometry is not None
        drawn, quarter, small = chances(geometry, sensor, Placement(air_gap_mm=1.0, clocking_angle_deg=0))
        self.assertGreater(quarter.low_pct, drawn.high_pct)
        self.assertGreater(small.low_pct, drawn.high_pct)
        # a smaller body brings the element nearer to its middle, not the fitter's hand nearer to the mark
        sure = replace(geometry, facts=geometry.facts.model_copy(update={"element_offset_mm": 0.0}))
        drawn, _, small = chances(sure, sensor, Placement(fitting_tolerance_mm=2))
        self.assertEqual(small.chance_pct, drawn.chance_pct)
        pair = Sensor(kind="hall_differential")
        wide = Target(count=60, ring=Ring(diameter_mm=100, face_width_mm=10))
        geometry = geometry_of(wide, pair, Placement(air_gap_mm=1.0, clocking_angle_deg=0))
        assert geometry is not None
        drawn, quarter, _ = chances(geometry, pair, Placement(air_gap_mm=1.0, clocking_angle_deg=0))
        self.assertGreater(drawn.low_pct, 95)
        self.assertLess(quarter.high_pct, 5)

    def test_two_wire_current_levels(self) -> None:
        self.assertIn("7 mA low, 14 mA high", WORDS["magnetoresistive"].wires)  # common practice
