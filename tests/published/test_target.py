"""Gears, spokes, parts to cut and waveforms, against standards, brute force and general-purpose libraries."""

from __future__ import annotations

import io
import itertools
import math
import re
from unittest import TestCase
from xml.etree import ElementTree

import ezdxf
import numpy as np
from scipy import optimize, signal

from speedchain.placement.model import Bracket
from speedchain.placement.strength import (
    spacing_loss,
)
from speedchain.target.model import Magnets, Ring, RingCut, SpokeWheel, Target
from speedchain.target.ring import ISO_54_MODULES_MM, gear_outside_diameter_mm, gear_tip_thickness_mm, ring_shape
from speedchain.target.spokes import even_counts, plan_spokes, spokes_of
from speedchain.waveform import Pulses, waveform
from speedchain.workpieces import bracket_outline, ring_outline
from speedchain.workpieces.write import as_dxf, as_pdf, as_svg

PRACTICE = Magnets()  # an ordinary ferrite spoke magnet, 8 × 6 mm: common practice


class Gears(TestCase):
    """DIN 867 / ISO 53 proportions and the ISO 54 series; values quoted from memory."""

    def test_proportions_of_the_basic_rack(self) -> None:
        for module in ISO_54_MODULES_MM:
            shape = ring_shape(Target(count=40, ring=Ring(form="module", module_mm=module)))
            assert shape is not None
            self.assertAlmostEqual(shape.diameter_mm, 42 * module)
            self.assertAlmostEqual(shape.depth_mm or 0, 2.25 * module)
            # pitch at the tip is the pitch circle's π·m enlarged by (N + 2)/N
            self.assertAlmostEqual(shape.pitch_mm, math.pi * module * 42 / 40)
            self.assertEqual(shape.nearest_module_mm, module)

    def test_a_gear_measured_over_its_tips_is_of_the_module_it_was_cut_with(self) -> None:
        for module, teeth in itertools.product(ISO_54_MODULES_MM, (12, 18, 48, 120)):
            shape = ring_shape(Target(count=teeth, ring=Ring(diameter_mm=module * (teeth + 2))))
            assert shape is not None
            self.assertEqual(shape.nearest_module_mm, module, teeth)

    def test_first_series_of_iso_54(self) -> None:
        # ISO 54 series I from 1 to 20 mm: preferred numbers R10 rounded. From memory.
        self.assertEqual(ISO_54_MODULES_MM, (1, 1.25, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10, 12, 16, 20))

    def test_tip_thickness_against_the_involute_as_a_curve(self) -> None:
        """The flank's polar angle found by unrolling the string, not by the formula of DIN 3960."""
        for module, teeth in ((2, 24), (2, 48), (1.5, 60), (3, 17)):
            pitch_r, tip_r = module * teeth / 2, gear_outside_diameter_mm(module, teeth) / 2
            base_r = pitch_r * math.cos(math.radians(20))

            def polar(radius: float, base: float = base_r) -> float:
                roll = optimize.brentq(lambda t: base * math.hypot(1, t) - radius, 0, 3)
                x = base * (math.cos(roll) + roll * math.sin(roll))
                y = base * (math.sin(roll) - roll * math.cos(roll))
                return math.atan2(y, x)

            half_at_pitch = math.pi / 2 / teeth
            half_at_tip = half_at_pitch - (polar(tip_r) - polar(pitch_r))
            self.assertAlmostEqual(gear_tip_thickness_mm(module, teeth), 2 * tip_r * half_at_tip, places=6)


class Spokes(TestCase):
    """Plane geometry by vectors, and the trade's rule: three on 36, two at most on 28 or 32 (common practice)."""

    def test_places_against_an_independent_vector_construction(self) -> None:
        for holes, crosses in itertools.product((20, 28, 32, 36, 48), (0, 1, 2, 3)):
            if 4 * math.pi * crosses / holes > math.pi / 2:  # no wheel is laced beyond the tangent; common practice
                with self.assertRaisesRegex(ValueError, "crosses"):
                    SpokeWheel(holes=holes, crosses=crosses)
                continue
            wheel = SpokeWheel(holes=holes, crosses=crosses)
            for radius in (40, 120, 250):
                for spoke in spokes_of(wheel, radius):
                    hub, rim = np.array(spoke.hub), np.array(spoke.rim)
                    # where the straight line from hub to rim cuts the circle, by a polynomial's roots
                    along = rim - hub
                    roots = np.roots([along @ along, 2 * hub @ along, hub @ hub - radius**2])
                    at = hub + max(roots.real) * along
                    np.testing.assert_allclose(at, spoke.at, atol=1e-6)
                    # as long as the wheel builder's formula says (law of cosines; common practice)
                    hub, rim = wheel.flange_diameter_mm / 2, wheel.rim_diameter_mm / 2
                    turn = 4 * math.pi * crosses / holes
                    flat = math.sqrt(hub * hub + rim * rim - 2 * hub * rim * math.cos(turn))
                    self.assertAlmostEqual(math.dist(spoke.hub, spoke.rim), flat)

    def test_hub_ends_are_even_and_every_hole_is_used_once(self) -> None:
        for holes, crosses in ((36, 3), (32, 2), (28, 3)):
            ends = sorted(
                math.degrees(math.atan2(*spoke.hub)) % 360
                for spoke in spokes_of(SpokeWheel(holes=holes, crosses=crosses), 100)
            )
            np.testing.assert_allclose(np.diff(ends), 720 / holes, atol=1e-9)

    def test_each_spoke_crosses_as_many_of_its_side_as_it_should(self) -> None:
        for holes, crosses in ((36, 3), (28, 2), (20, 1)):
            first, *others = spokes_of(SpokeWheel(holes=holes, crosses=crosses), 100)
            cut = 0
            for other in others:
                one, two = np.subtract(first.rim, first.hub), np.subtract(other.rim, other.hub)
                along = np.linalg.solve(np.column_stack([one, -two]), np.subtract(other.hub, first.hub))
                cut += bool(np.all((along > 1e-9) & (along < 1 - 1e-9)))
            self.assertEqual(cut, crosses)

    def test_best_set_is_best_of_all_combinations(self) -> None:
        for holes, magnets, radius in ((36, 3, 120), (32, 3, 120), (28, 2, 60), (28, 3, 200), (32, 4, 90), (36, 4, 50)):
            wheel = SpokeWheel(holes=holes)
            angles = [spoke.angle_deg for spoke in spokes_of(wheel, radius)]
            even = 360 / magnets

            def error(numbers: tuple[int, ...], angles: list[float] = angles, even: float = even) -> float:
                taken = sorted(angles[number] for number in numbers)
                return max(abs((b - a) % 360 - even) for a, b in zip(taken, taken[1:] + taken[:1], strict=True))

            best = min(error(numbers) for numbers in itertools.combinations(range(holes // 2), magnets))
            self.assertAlmostEqual(plan_spokes(wheel, magnets, radius).sets[0].error_deg, best, places=6)

    def test_the_trade_rule_falls_out(self) -> None:
        self.assertEqual(even_counts(SpokeWheel(holes=36)), (1, 3, 9))
        self.assertEqual(even_counts(SpokeWheel(holes=32)), (1, 2, 4, 8))
        self.assertEqual(even_counts(SpokeWheel(holes=28)), (1, 7))
        three = {holes: plan_spokes(SpokeWheel(holes=holes), 3, 120).sets[0] for holes in (28, 32, 36)}
        self.assertEqual(three[36].spokes, (1, 7, 13))
        self.assertTrue(three[36].same_plane)
        self.assertAlmostEqual(three[36].ripple_high_pct, 0)
        for holes in (28, 32):
            self.assertGreater(three[holes].ripple_high_pct, 10)
        two = plan_spokes(SpokeWheel(holes=28), 2, 120).sets[0]
        self.assertFalse(two.same_plane)
        self.assertGreater(two.plane_offset_mm, 1)
        self.assertLess(two.error_deg, three[28].error_deg)
        self.assertIn("other plane", plan_spokes(SpokeWheel(holes=28), 2, 120).rule)

    def test_speed_ripple_averages_out_over_a_turn(self) -> None:
        result = plan_spokes(SpokeWheel(holes=28), 3, 150).sets[0]
        self.assertAlmostEqual(sum(result.spacing_deg), 360)
        harmonic = 3 / sum(spacing / 120 for spacing in result.spacing_deg)
        self.assertAlmostEqual(harmonic, 1)


class Parts(TestCase):
    """Files read back by other programs' readers: ezdxf for DXF, a plain XML reader for SVG."""

    def plan(self, form: str = "teeth", kerf_mm: float = 0.2) -> Target:
        cut = RingCut(form=form, kerf_mm=kerf_mm)  # type: ignore[arg-type]
        return Target(count=37, ring=Ring(diameter_mm=101.6), cut=cut)

    def test_dxf_read_back_has_the_same_count_and_diameter(self) -> None:
        for kerf in (0.0, 0.3):
            written = as_dxf(ring_outline(self.plan(kerf_mm=kerf), "hall_gear_tooth"))
            document = ezdxf.read(io.StringIO(written.decode()))
            self.assertEqual(document.units, ezdxf.units.MM)
            (outline,) = document.modelspace().query("LWPOLYLINE")
            radii = np.hypot(*np.array([point[:2] for point in outline.get_points("xy")]).T)
            self.assertAlmostEqual(2 * radii.max(), 101.6 + kerf, places=6)
            outer = radii > (radii.max() + radii.min()) / 2
            self.assertEqual(int(np.count_nonzero(outer & ~np.roll(outer, 1))), 37)
            bore = min(document.modelspace().query("CIRCLE"), key=lambda one: one.dxf.center.magnitude - one.dxf.radius)
            self.assertAlmostEqual(2 * bore.dxf.radius, 30 - kerf, places=6)

    def test_tooth_width_comes_out_with_the_kerf_taken_off(self) -> None:
        shape = ring_shape(self.plan())
        assert shape is not None
        outline = ring_outline(self.plan(), "hall_gear_tooth").contours[0]
        first = math.dist(outline[1][:2], outline[2][:2])
        self.assertAlmostEqual(first - 0.2, 0.45 * shape.pitch_mm, places=6)
        half = ring_outline(self.plan(), "hall_differential").contours[0]
        self.assertAlmostEqual(math.dist(half[1][:2], half[2][:2]) - 0.2, 0.5 * shape.pitch_mm, places=6)

    def test_slots_and_holes_have_the_count(self) -> None:
        slots = ring_outline(self.plan("slots"), "optical")
        self.assertEqual(len(slots.contours), 37)
        holes = ring_outline(self.plan("holes"), "optical")
        self.assertEqual(len(holes.circles), 37 + 1 + 6 + 1)

    def test_svg_is_in_millimetres_and_closes(self) -> None:
        root = ElementTree.fromstring(as_svg(ring_outline(self.plan(), "hall_gear_tooth")))
        self.assertRegex(root.attrib["width"], r"^1\d\d\.\d+mm$")
        self.assertAlmostEqual(float(root.attrib["width"][:-2]), float(root.attrib["viewBox"].split()[2]))
        (path,) = root.findall(".//{http://www.w3.org/2000/svg}path")
        self.assertEqual(path.attrib["d"].count("A"), 2 * 37)
        numbers = [float(n) for n in re.findall(r"-?\d+\.\d{4}", path.attrib["d"])]
        self.assertLess(max(abs(n) for n in numbers), 51.0)

    def test_pdf_is_at_full_size_with_its_ruler(self) -> None:
        one = as_pdf(bracket_outline(Bracket()))
        self.assertEqual(one.count(b"/Type /Page\n"), 1)
        many = as_pdf(
            ring_outline(Target(count=48, ring=Ring(diameter_mm=260), cut=RingCut()), "hall_gear_tooth", kerf=False)
        )
        self.assertEqual(many.count(b"/Type /Page\n"), 4)


class Waveforms(TestCase):
    """The simulated signal against scipy: crossings by root finding, runout by the analytic signal's envelope."""

    def test_edges_of_an_accelerating_wheel(self) -> None:
        times = np.linspace(0, 2, 200_001)
        result = waveform(Pulses(24, hysteresis=1e-6), times, turns_per_s=3 + 4 * times, start_turns=-0.25 / 24)

        def turns(t: float, place: int) -> float:
            return 3 * t + 2 * t * t - 0.25 / 24 - place / 24

        expected = [optimize.brentq(turns, 0, 2, args=(place,)) for place in range(len(result.rising_s))]
        np.testing.assert_allclose(result.rising_s, expected, atol=2e-5)
        self.assertEqual(len(expected), (3 * 2 + 2 * 4) * 24)

    def test_runout_modulates_as_the_spacing_loss_does(self) -> None:
        times = np.linspace(0, 1, 48_000, endpoint=False)
        result = waveform(Pulses(48, runout_mm=0.6, pitch_mm=6.0), times, turns_per_s=5.0)
        envelope = np.abs(signal.hilbert(result.raw))
        gap = 0.3 * np.cos(2 * math.pi * result.turns)  # TIR/2, widest at the first tooth
        np.testing.assert_allclose(envelope[500:-500], spacing_loss(gap, 6.0)[500:-500], rtol=0.02)
