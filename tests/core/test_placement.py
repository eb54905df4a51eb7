"""Target, sensor and placement: what the rules say, where the limits stand, and what is refused."""

from __future__ import annotations

import math
from datetime import date
from typing import Any
from unittest import TestCase

import numpy as np

from speedchain import Evaluation, evaluate, read_installation
from speedchain.fields.errors import DocumentError, InputError
from speedchain.jobs import draw_up
from speedchain.placement import PlacementDetail
from speedchain.placement.channels import two_channels
from speedchain.placement.model import Bracket
from speedchain.placement.view import view_placement
from speedchain.sensor import Needs, Sensor, requirements_of
from speedchain.sensor.choice import choose_sensor
from speedchain.sheets.tag import tag_lines
from speedchain.target import ring_shape
from speedchain.target.model import Magnets, Ring, RingCut, SpokeWheel, Target
from speedchain.target.spokes import plan_spokes, plane_spread_mm, spokes_of
from speedchain.waveform import MOST_SAMPLES, Pulses, waveform
from speedchain.workpieces import WRITERS, bracket_outline, ring_outline
from tests.installations import CAR, CYCLE, document, installation

RING = {"kind": "toothed_ring", "count": 48, "ring": {"diameter_mm": 98}}
MAGNETS = {"kind": "magnets", "count": 3, "magnets": {"radius_mm": 90}}


def placed(base: dict[str, Any] = CAR, **changes: Any) -> Evaluation:
    return evaluate(read_installation(document(base, **changes)))


def codes(result: Evaluation) -> dict[str, str]:
    return {one.code: one.severity for one in result.findings if one.stage in ("target", "sensor")}


def on_ring(**changes: Any) -> dict[str, str]:
    return codes(placed(**{"target": RING, "placement": {"air_gap_mm": 0.9}} | changes))


def on_magnets(sensor: str, placement: dict[str, Any], **changes: Any) -> dict[str, str]:
    return codes(placed(CYCLE, **{"target": MAGNETS, "sensor": {"kind": sensor}, "placement": placement} | changes))


class Rules(TestCase):
    def test_a_good_placement_says_nothing(self) -> None:
        self.assertEqual(on_ring(), {})
        self.assertEqual(on_magnets("reed", {"air_gap_mm": 2, "lateral_offset_mm": 7}), {})

    def test_nothing_is_said_of_a_placement_nobody_entered(self) -> None:
        self.assertEqual(codes(placed(target=RING)), {})
        self.assertEqual(codes(placed()), {})

    def test_gap_too_small_too_large_and_none_at_all(self) -> None:
        self.assertEqual(on_ring(placement={"air_gap_mm": 0.2}), {"placement.touches": "blocking"})
        self.assertEqual(on_ring(placement={"air_gap_mm": 2.4}), {"placement.too_weak": "blocking"})
        self.assertEqual(on_ring(placement={"air_gap_mm": 1.6}), {"placement.barely": "note"})
        wobbly = RING | {"ring": {"diameter_mm": 98, "runout_mm": 2}}
        self.assertEqual(on_ring(target=wobbly), {"placement.no_window": "blocking"})

    def test_beyond_twice_the_rated_gap_only_a_test_with_the_target_counts(self) -> None:
        """A gear-tooth sensor before coarse teeth, at 2.2 times the gap of its data sheet: 4 mm instead of 1.8."""
        coarse = {"kind": "toothed_ring", "count": 6, "ring": {"diameter_mm": 120, "tooth_depth_mm": 20}}
        for test, believed in ((None, False), ("magnet", False), ("spin", True), ("road", True)):
            sensor: dict[str, Any] = {"kind": "hall_gear_tooth"}
            if test is not None:
                sensor["verification"] = {"test": test, "on": "2026-05-02"}
            result = placed(target=coarse, sensor=sensor, placement={"air_gap_mm": 4.0})
            self.assertEqual(result.placement_detail.weakest >= 1, believed, test)
            weak = [one for one in result.findings if one.code == "placement.too_weak"]
            self.assertEqual(bool(weak), not believed)
            if weak and test is None:
                self.assertIn("do the spin test and record it", weak[0].remedy)
        near = placed(target=coarse, sensor={"kind": "hall_gear_tooth"}, placement={"air_gap_mm": 3.0})
        self.assertNotIn("spin test", " ".join(one.remedy for one in near.findings if one.code == "placement.too_weak"))

    def test_the_window_stands_between_touching_and_losing_teeth(self) -> None:
        result = placed(target=RING, placement={}).placement_detail
        self.assertFalse(result.gap_given)
        self.assertAlmostEqual(result.air_gap_mm, (result.lowest_gap_mm + result.highest_gap_mm) / 2, delta=0.01)
        for gap, weakest in ((result.highest_gap_mm - 0.01, True), (result.highest_gap_mm + 0.01, False)):
            at = placed(target=RING, placement={"air_gap_mm": gap}).placement_detail
            self.assertEqual(at.weakest >= 1, weakest)
            self.assertGreater(at.strength, 1)  # at rest it would do: the turn decides
            found = on_ring(placement={"air_gap_mm": gap})
            self.assertEqual("placement.too_weak" in found, not weakest)
        lowest = 0.05 + 0.05 + 11.7e-6 * 49 * 60 + 0.2  # 0.3344: never less on a gauge that reads hundredths
        self.assertAlmostEqual(result.lowest_gap_mm, math.ceil(100 * lowest) / 100)

    def test_sideways_off_a_narrow_ring_it_loses_the_teeth(self) -> None:
        narrow = RING | {"ring": {"diameter_mm": 98, "face_width_mm": 3}}
        for sideways, seen in ((0, True), (4, False)):
            found = on_ring(target=narrow, placement={"air_gap_mm": 0.6, "lateral_offset_mm": sideways})
            self.assertEqual("placement.no_window_off_target" not in found, seen)

    def test_the_alignment_target_follows_the_marked_spot(self) -> None:
        marked = {"kind": "hall_gear_tooth", "element_mark": {"feature": "rectangle", "across_mm": 2.5}}
        narrow = RING | {"ring": {"diameter_mm": 98, "face_width_mm": 3}}
        result = placed(target=narrow, sensor=marked, placement={"air_gap_mm": 0.6}).placement_detail
        self.assertEqual(result.target_sideways_mm, -2.5)
        there = placed(
            target=narrow, sensor=marked, placement={"air_gap_mm": 0.6, "lateral_offset_mm": -2.5}
        ).placement_detail
        self.assertGreater(there.strength, 2 * result.strength)

    def test_a_quarter_turn_of_a_differential_sensor_is_told_before_anyone_turns_it(self) -> None:
        sensor = {"kind": "hall_differential"}
        with_row = on_ring(sensor=sensor, placement={"air_gap_mm": 0.8, "clocking_angle_deg": 0})
        self.assertEqual(with_row, {})
        self.assertEqual(on_ring(sensor=sensor, placement={"air_gap_mm": 0.8}), {})  # nothing said: as is right for it
        for turned in (90, -90, 60):
            found = on_ring(sensor=sensor, placement={"air_gap_mm": 0.8, "clocking_angle_deg": turned})
            self.assertEqual(found["placement.clocked_wrong"], "blocking")

    def test_rings_that_cannot_be_seen_or_are_wrong_for_speed(self) -> None:
        for material, seen in (("steel", True), ("aluminium", False), ("austenitic_stainless", False)):
            found = on_ring(target=RING | {"ring": {"diameter_mm": 98, "material": material}})
            self.assertEqual("target.not_ferrous" not in found, seen)
        missing = on_ring(target=RING | {"ring": {"diameter_mm": 98, "missing_teeth": 1}})
        self.assertEqual(missing, {"target.missing_tooth": "warning"})
        shallow = on_ring(target=RING | {"ring": {"diameter_mm": 98, "tooth_depth_mm": 1}}, placement=None)
        self.assertEqual(shallow, {"target.shallow": "warning"})
        fine = on_ring(target={"kind": "toothed_ring", "count": 120, "ring": {"diameter_mm": 98}}, placement=None)
        self.assertEqual(fine, {"target.too_fine": "warning"})

    def test_magnets_turned_round_double_and_out_of_reach(self) -> None:
        north = {"target": MAGNETS | {"magnets": {"radius_mm": 90, "pole": "north"}}}
        self.assertEqual(on_magnets("hall_switch", {"air_gap_mm": 2}, **north), {"placement.pole": "blocking"})
        result = placed(CYCLE, sensor={"kind": "hall_switch"}, placement={"air_gap_mm": 2}, **north).placement_detail
        self.assertLessEqual(result.strength, 0)
        along = on_magnets("reed", {"air_gap_mm": 2, "clocking_angle_deg": 0})
        self.assertEqual(along, {"placement.double": "blocking"})
        self.assertEqual(on_magnets("reed", {"air_gap_mm": 2}), {})  # as people fit it: its end at the magnet
        middle = on_magnets("reed", {"air_gap_mm": 2, "lateral_offset_mm": 0})
        self.assertEqual(middle, {"placement.reed_end": "blocking"})
        far = on_magnets("hall_switch", {"air_gap_mm": 10})
        self.assertEqual(far, {"placement.too_weak": "blocking", "placement.pole_unknown": "note"})

    def test_magnets_on_uneven_spokes_ripple_and_take_from_the_window(self) -> None:
        windows = []
        for chosen, uneven in (((1, 9), True), ((1, 8), True), ((), False)):
            target = {"kind": "magnets", "count": 2, "magnets": {}, "spokes": {"holes": 28, "chosen": chosen}}
            result = placed(
                CYCLE, target=target, sensor={"kind": "reed"}, placement={"air_gap_mm": 2, "lateral_offset_mm": 7}
            )
            self.assertEqual("target.uneven" in codes(result), uneven)
            windows.append(result.placement_detail.highest_gap_mm - result.placement_detail.lowest_gap_mm)
        self.assertLess(windows[1], windows[0] - 2)  # 1 and 8 run in different planes, 1 and 9 in one
        self.assertAlmostEqual(windows[0], windows[2], delta=0.1)

    def test_too_fast_wrong_supply_and_too_hot(self) -> None:
        needs = {"min_speed_kmh": 5, "max_speed_kmh": 300, "supply_v": 3.3, "ambient_max_c": 140}
        found = on_ring(sensor={"kind": "hall_gear_tooth", "needs": needs})
        self.assertEqual(found, {"sensor.supply": "warning", "sensor.too_hot": "warning"})
        many = on_magnets(
            "reed", {"air_gap_mm": 2, "lateral_offset_mm": 7}, target=MAGNETS | {"count": 60}, check_speed_kmh=90
        )
        self.assertEqual(many["sensor.too_fast"], "warning")

    def test_advice_to_turn_and_to_centre_gives_what_it_says(self) -> None:
        narrow = RING | {"ring": {"diameter_mm": 98, "face_width_mm": 3}}
        along = placed(target=narrow, placement={"air_gap_mm": 0.9, "clocking_angle_deg": 0, "lateral_offset_mm": 1.6})
        turn, centre = along.placement_detail.advice[:2]
        for words, change in ((turn, {"clocking_angle_deg": 90}), (centre, {"lateral_offset_mm": 0})):
            there = {"air_gap_mm": 0.9, "clocking_angle_deg": 0, "lateral_offset_mm": 1.6} | change
            strength = placed(target=narrow, placement=there).placement_detail.strength
            self.assertIn(f"{strength:.2f} ×", words)
        across = {"air_gap_mm": 0.9, "clocking_angle_deg": 90}
        pair = {"target": RING, "sensor": {"kind": "hall_differential"}, "placement": across}
        self.assertIn("along the direction of travel", placed(**pair).placement_detail.advice[0])
        self.assertEqual(placed(target=RING, placement={"air_gap_mm": 0.9}).placement_detail.advice, ())

    def test_advice_for_shim_and_reach(self) -> None:
        far = placed(target=RING, placement={"air_gap_mm": 3}).placement_detail.advice
        self.assertIn("closer", far[0])
        close = placed(target=RING, placement={"air_gap_mm": 0.1}).placement_detail.advice
        self.assertIn("Shim the sensor out", close[0])
        copied = placed(target=RING, placement={"original_reach_mm": "1.06in", "reach_mm": 28}).placement_detail.advice
        self.assertIn("1.08 mm longer", copied[0])

    def test_a_whippy_bracket_and_a_second_channel_for_the_direction(self) -> None:
        thin = on_ring(placement={"air_gap_mm": 0.9, "bracket": {"reach_mm": 90, "thickness_mm": 2}})
        self.assertEqual(thin, {"placement.bracket": "note"})
        for second, result in ((None, True), ({"spacing_mm": 8.02}, False)):
            found = on_ring(purpose="direction", placement={"air_gap_mm": 0.9, "second": second})
            self.assertEqual("purpose.two_channels" in found, result)

    def test_a_lean_costs_signal(self) -> None:
        upright, leaning = (
            placed(target=RING, placement={"air_gap_mm": 0.9, "tilt_deg": lean}).placement_detail.strength
            for lean in (0, 6)
        )
        self.assertLess(leaning, 0.65 * upright)

    def test_what_is_missing_is_said(self) -> None:
        for changes, words in (
            ({}, "diameter or the module"),
            ({"sensor": {"kind": "inertial"}}, "no placement"),
            ({"sensor": {"kind": "reed"}}, "cannot detect"),
            ({"target": {"kind": "paddle_magnets", "count": 4}, "sensor": {"kind": "hall_switch"}}, "nothing to place"),
            ({"target": {"kind": "magnets", "count": 3}, "sensor": {"kind": "reed"}}, "size and radius of the magnets"),
        ):
            result = placed(**{"placement": {}} | changes).placement_detail
            self.assertFalse(result.possible)
            self.assertIn(words, result.missing)

    def test_longest_and_shortest_pulse(self) -> None:
        uneven = RING | {"ring": {"diameter_mm": 98, "tooth_width_mm": 2}}
        needs = {"min_speed_kmh": 10, "max_speed_kmh": 180}
        result = placed(
            target=uneven, sensor={"kind": "hall_gear_tooth", "needs": needs}, placement={"air_gap_mm": 0.9}
        )
        turn_ms = result.stages[0].value / (10 / 3.6)
        self.assertAlmostEqual(result.pulse_times.longest_ms, turn_ms * (1 / 48 - 2 / (np.pi * 98)))
        self.assertAlmostEqual(result.pulse_times.shortest_ms, turn_ms / 18 * 2 / (np.pi * 98))

    def test_places_of_missing_teeth_count_for_pitch_and_module(self) -> None:
        result = placed(target=RING | {"count": 35, "ring": {"diameter_mm": 90, "missing_teeth": 1}}).ring
        assert result is not None
        self.assertEqual((result.places, result.module_mm), (36, 2.5))
        self.assertAlmostEqual(result.pitch_mm, np.pi * 2.5)

    def test_the_planes_of_spokes_close_in_towards_the_rim(self) -> None:
        wheel = SpokeWheel(holes=28, flange_thickness_mm=3)
        spread = [plane_spread_mm(spokes_of(wheel, radius)) for radius in (22.5, 120, 300)]
        self.assertAlmostEqual(spread[0], 3 + 2)  # the flange and one spoke
        self.assertTrue(spread[0] > spread[1] > spread[2])
        self.assertAlmostEqual(spread[2], 0)

    def test_the_ring_s_figures_stand_on_its_link(self) -> None:
        figures = {one.name: one for one in placed(target=RING).stages[2].figures}
        self.assertAlmostEqual(figures["pitch"].value, np.pi * 98 / 48)
        turns = 100 / 3.6 / (placed().stages[0].value / 1000)
        self.assertAlmostEqual(figures["speed past the sensor"].value, np.pi * 0.098 * turns)


class Channels(TestCase):
    def test_phase_error_and_who_leads(self) -> None:
        for spacing, error, leads in ((1.5, 0, "first"), (4.5, 0, "second"), (7.8, 18, "first"), (3.0, 90, "neither")):
            result = two_channels(spacing, 6.0)
            self.assertAlmostEqual(abs(result.error_deg), error)
            self.assertEqual(result.leads, leads)
        self.assertIn(7.5, two_channels(7.0, 6.0).good_spacings_mm)

    def test_who_leads_against_the_two_signals(self) -> None:
        """A tooth reaches the first channel, and the spacing further along the second."""
        x = np.linspace(0, 6, 601)
        for spacing in (1.5, 4.5, 7.5, 10.5):
            first, second = np.sin(2 * np.pi * x / 6) > 0, np.sin(2 * np.pi * (x - spacing) / 6) > 0
            rises = np.flatnonzero(first[1:] & ~first[:-1])[0] + 1
            # going forwards, where the first rises the second is still low when the first leads
            self.assertEqual(two_channels(spacing, 6.0).leads == "first", not second[rises + 1])

    def test_a_head_for_one_module_is_wrong_on_another(self) -> None:
        self.assertEqual(on_ring(placement={"air_gap_mm": 0.9, "second_channel": {"spacing_mm": 8.02}}), {})
        found = on_ring(placement={"air_gap_mm": 0.9, "second_channel": {"spacing_mm": 9.62}})
        self.assertEqual(found, {"placement.channels_together": "blocking"})


class Refused(TestCase):
    def test_parts_that_contradict_themselves_name_field_limit_and_remedy(self) -> None:
        for path, value in (
            ("target.ring.diameter_mm", RING | {"ring": {"form": "diameter"}}),
            ("target.ring.module_mm", RING | {"ring": {"form": "module"}}),
            ("target.ring.tooth_width_mm", RING | {"ring": {"diameter_mm": 98, "tooth_width_mm": 6.5}}),
            ("target.spokes.holes", MAGNETS | {"spokes": {"holes": 30}}),
            ("target.spokes.crosses", MAGNETS | {"spokes": {"holes": 12, "crosses": 3}}),
            ("target.spokes.rim_diameter_mm", MAGNETS | {"spokes": {"rim_diameter_mm": 50}}),
            ("target.magnets.radius_mm", MAGNETS | {"magnets": {"radius_mm": 400}, "spokes": {}}),
            ("target.spokes.chosen", MAGNETS | {"spokes": {"holes": 36, "chosen": [19]}}),
        ):
            with self.subTest(path), self.assertRaises(DocumentError) as caught:
                read_installation(document(CAR, target=value))
            self.assertEqual(caught.exception.problems[0].path, path)
            self.assertTrue(caught.exception.problems[0].remedy)

    def test_plans_off_the_wheel(self) -> None:
        with self.assertRaisesRegex(InputError, "no spoke"):
            plan_spokes(SpokeWheel(), 3, 400)
        with self.assertRaisesRegex(InputError, "do not fit on"):
            plan_spokes(SpokeWheel(), 10, 120)

    def test_a_chosen_set_is_shown_though_it_is_bad(self) -> None:
        result = plan_spokes(SpokeWheel(chosen=(2, 9, 13)), 3, 120)
        self.assertEqual([one.spokes for one in result.sets if one.in_use], [(1, 5, 12)])

    def test_parts_without_material_between_their_holes(self) -> None:
        ring = Ring(diameter_mm=98)
        for cut, field in (
            (RingCut(bore_mm=95), "bore_mm"),
            (RingCut(bolt_circle_mm=32), "bolt_circle_mm"),
            (RingCut(bolts=24, bolt_circle_mm=40), "bolts"),
            (RingCut(kerf_mm=5), "kerf_mm"),
        ):
            with self.assertRaises(InputError) as caught:
                ring_outline(Target(count=48, ring=ring, cut=cut), "hall_gear_tooth")
            self.assertEqual(caught.exception.problems[0].path, f"target.cut.{field}")
        for bracket in (Bracket(reach_mm=10), Bracket(bolt_spacing_mm=5)):
            with self.assertRaises(InputError):
                bracket_outline(bracket)
        with self.assertRaisesRegex(InputError, "sheets"):
            WRITERS["pdf"](ring_outline(Target(count=48, ring=Ring(diameter_mm=2500), cut=RingCut()), "reed"))

    def test_a_waveform_is_bounded(self) -> None:
        with self.assertRaisesRegex(InputError, "more than the limit"):
            waveform(Pulses(1), np.zeros(MOST_SAMPLES + 1), turns_per_s=1.0)


class Waveforms(TestCase):
    t = np.linspace(0, 2, 40_001)

    def edges(self, turns_per_s: Any = 10.0, **more: Any) -> Any:
        return waveform(Pulses(**{"count": 24} | more), self.t, turns_per_s=turns_per_s, start_turns=-0.5 / 24)

    def test_every_tooth_gives_one_edge_at_its_time(self) -> None:
        result = self.edges()
        self.assertEqual(len(result.rising_s), 480)
        np.testing.assert_allclose(np.diff(result.rising_s), 1 / 240, atol=6e-5)

    def test_a_speed_profile_is_integrated(self) -> None:
        result = self.edges(turns_per_s=5 + 5 * self.t)
        self.assertEqual(len(result.rising_s), int((5 * 2 + 5 * 2**2 / 2) * 24))
        self.assertGreater(np.diff(result.rising_s)[0], 2 * np.diff(result.rising_s)[-1])

    def test_missing_tooth_runout_noise_and_bounce(self) -> None:
        self.assertEqual(len(self.edges(missing=(5,)).rising_s), 460)
        wobbly = self.edges(runout_mm=1.0, pitch_mm=6.0)
        self.assertAlmostEqual(wobbly.raw.max() / np.exp(np.pi / 6), 1, places=2)
        lost = self.edges(runout_mm=1.0, pitch_mm=6.0, hysteresis=1.6)
        self.assertLess(len(lost.rising_s), 480)
        self.assertGreater(len(self.edges(bounce_s=0.0003).rising_s), 480)
        once, again = (self.edges(noise=0.1).raw for _ in range(2))
        np.testing.assert_array_equal(once, again)

    def test_uneven_magnets_come_at_their_angles(self) -> None:
        result = waveform(
            Pulses(3, width_deg=8, angle_errors_deg=(0, 6, 0), threshold=0.5),
            self.t,
            turns_per_s=10.0,
            start_turns=-0.1,
        )
        gaps = np.diff(result.rising_s)[:3] * 3600
        np.testing.assert_allclose(gaps, (126, 114, 120), atol=0.5)

    def test_the_scope_counts_what_the_strength_says(self) -> None:
        for gap, words in ((0.9, "48 of 48 counted"), (3.0, "48 of 48 missed")):
            installation = read_installation(document(CAR, target=RING, placement={"air_gap_mm": gap}))
            assert installation.placement is not None
            view = view_placement(installation.target, installation.sensor, installation.placement, 0.05)
            assert view.scope is not None
            self.assertEqual(view.scope.text, words)
            raw = np.array(view.scope.raw)
            wave = np.exp(2 * np.pi * view.detail.moves_mm / view.detail.pitch_mm)
            self.assertAlmostEqual(raw.max(), view.detail.strength * wave, delta=0.13)  # noise
        fine = RING | {"count": 200, "ring": {"diameter_mm": 300}}
        installation = read_installation(document(CAR, target=fine, placement={"air_gap_mm": 0.5}))
        assert installation.placement is not None
        view = view_placement(installation.target, installation.sensor, installation.placement, 0.05)
        assert view.scope is not None
        assert view.map is not None
        self.assertEqual(view.scope.text, "60 of 60 counted")
        middle = view.map.ratio[60][30]
        self.assertAlmostEqual(middle, view.detail.weakest, places=2)

    def test_magnets_on_chosen_spokes_are_as_uneven_as_the_plan_says(self) -> None:
        target = Target(kind="magnets", count=3, magnets=Magnets(), spokes=SpokeWheel(holes=32, chosen=(1, 6, 11)))
        installation = read_installation(
            document(CYCLE, target=target.model_dump(), sensor={"kind": "hall_switch"}, placement={})
        )
        assert installation.placement is not None
        view = view_placement(installation.target, installation.sensor, installation.placement, 0.36)
        assert view.scope is not None
        high = np.array(view.scope.high)
        rises = np.array(view.scope.time_ms[1:])[(high[1:] == 1) & (high[:-1] == 0)]
        plan = plan_spokes(SpokeWheel(holes=32, chosen=(1, 6, 11)), 3, 120).sets[0]
        self.assertTrue(plan.in_use)
        spacing = [*np.diff(rises), 360 - (rises[2] - rises[0])]
        np.testing.assert_allclose(sorted(spacing), sorted(plan.spacing_deg), atol=1.5)


class PhaseOfChannels(TestCase):
    def test_half_a_pitch_apart_is_opposite_not_together(self) -> None:
        """3 mm at 6.44 mm pitch: 168°, nearly opposite; 6.4 mm: 358°, together; a quarter is clear."""
        for spacing, words in ((3.0, "in opposite phase, 168° apart"), (6.4, "together, 358° apart")):
            self.assertIn(words, two_channels(spacing, 6.44).text)
        self.assertIn("the first channel leads", two_channels(1.61, 6.44).text)

    def test_one_figure_says_how_far_to_move(self) -> None:
        for gap, words in ((2.4, "closer, to 1.0"), (0.1, "Shim the sensor out by 0.9 mm, to 1.0")):
            advice = placed(target=RING, placement={"air_gap_mm": gap}).placement_detail.advice
            self.assertTrue(any(words in line for line in advice), (gap, advice))


class Choices(TestCase):
    def best(self, target: Any, purpose: str = "true_speed", ppk: float = 25_000, **needs: Any) -> Any:
        sensor = Sensor(kind="hall_gear_tooth", needs=Needs(**{"supply_v": 12, "ambient_max_c": 80} | needs))
        return choose_sensor(target, purpose, ppk, requirements_of(sensor, "car", 200.0))

    def test_ranked_with_reasons(self) -> None:
        ring = self.best("toothed_ring")
        self.assertEqual(ring.choices[0].kind, "hall_gear_tooth")
        verdicts = {one.kind: one.verdict for one in ring.choices}
        self.assertEqual(verdicts["reed"], "does not suit")
        self.assertEqual(len(ring.schools), 2)
        self.assertEqual(self.best("magnets", ppk=640).choices[0].kind, "hall_switch")
        self.assertEqual(self.best("magnets", ppk=640, supply_v=0).choices[0].kind, "reed")
        self.assertEqual(self.best("paddle_magnets", "water_speed", 10_800).choices[0].kind, "paddlewheel")
        self.assertEqual(self.best("magnets").schools, ())

    def test_low_speed_heat_and_supply_rule_kinds_out(self) -> None:
        vr = next(
            one for one in self.best("toothed_ring", min_speed_kmh=1).choices if one.kind == "variable_reluctance"
        )
        self.assertIn("no signal below about 4.3 km/h", vr.against[0])
        hot = self.best("toothed_ring", ambient_max_c=140)
        self.assertEqual(
            {one.kind for one in hot.choices if one.verdict != "does not suit"} & {"hall_gear_tooth"}, set()
        )
        low = next(one for one in self.best("toothed_ring", supply_v=3.3).choices if one.kind == "hall_gear_tooth")
        self.assertEqual(low.verdict, "with limits")


class WhatTheMakerPermits(TestCase):
    """The maker's range limits the calculation's; both were worked out by hand from the numbers beside them."""

    def detail(self, gap: dict[str, Any] | None, **placement: Any) -> PlacementDetail:
        known = installation(CAR, target=RING, sensor__maker_gap=gap, placement={"air_gap_mm": 1.0} | placement)
        return evaluate(known).placement_detail

    def test_both_limit(self) -> None:
        free = self.detail(None)
        low, high = free.lowest_gap_mm, free.highest_gap_mm
        self.assertLess(low, 0.6)
        self.assertGreater(high, 1.5)
        narrow = self.detail({"lowest_mm": 0.6, "highest_mm": 1.5})
        self.assertEqual((narrow.lowest_gap_mm, narrow.highest_gap_mm), (0.6, 1.5))
        wide = self.detail({"lowest_mm": 0.0, "highest_mm": 50})
        self.assertEqual((wide.lowest_gap_mm, wide.highest_gap_mm), (low, high))
        least = self.detail({"lowest_mm": 0.7})
        self.assertEqual((least.lowest_gap_mm, least.highest_gap_mm), (0.7, high))
        apart = self.detail({"lowest_mm": 4.0, "highest_mm": 5.0})
        self.assertEqual((apart.lowest_gap_mm, apart.highest_gap_mm), (4.0, 5.0))  # the maker has tried it
        self.assertEqual(self.detail({"lowest_mm": 0.6, "highest_mm": 1.0}, air_gap_mm=None).air_gap_mm, 0.8)

    def test_what_can_touch_is_never_permitted(self) -> None:
        """Runout, play and heat take some 0.4 mm: a maker's 0.2 mm at most leaves no gap at all."""
        touching = self.detail(None).lowest_gap_mm
        found = self.detail({"highest_mm": 0.2}, air_gap_mm=0.2)
        self.assertEqual((found.lowest_gap_mm, found.highest_gap_mm), (touching, 0.2))
        said = on_ring(
            sensor={"kind": "hall_gear_tooth", "maker_gap": {"highest_mm": 0.2}}, placement={"air_gap_mm": 0.2}
        )
        self.assertEqual(said, {"placement.maker_disagrees": "blocking"})

    def test_by_module(self) -> None:
        """A ring of 48 places, 98 mm outside: module about 2 (98/50, ISO 53 with tip at m·(z + 2))."""
        shape = ring_shape(installation(CAR, target=RING).target)
        assert shape is not None
        rows = [{"module_mm": 1, "highest_mm": 0.5}, {"module_mm": 3, "highest_mm": 1.5}]
        found = self.detail({"by_module": rows}).highest_gap_mm
        self.assertAlmostEqual(found, 0.5 + (shape.module_mm - 1) / 2, delta=0.001)
        self.assertAlmostEqual(shape.module_mm, 2, delta=0.1)

    def test_on_sheet_and_tag_and_without_a_placement(self) -> None:
        for placement in ({"air_gap_mm": 0.9}, None):
            known = installation(
                CAR, target=RING, sensor__maker_gap={"lowest_mm": 0.8, "highest_mm": 1.2}, placement=placement
            )
            found = evaluate(known)
            sheet = draw_up(known, found, "new_installation")
            step = next(item for item in sheet.steps if item.measure == "gap")
            self.assertIn("0.80 to 1.20 mm", step.text)
            assert step.expected is not None
            self.assertEqual((step.expected.low, step.expected.high), (0.8, 1.2))
            lines = tag_lines(known, found, "sensor", vehicle="V", revision=1, on=date(2026, 5, 2))
            self.assertIn("Gap: 0.80 to 1.20 mm", lines)

    def test_a_range_that_falls_is_refused_with_its_field(self) -> None:
        with self.assertRaises(DocumentError) as caught:
            installation(CAR, sensor__maker_gap={"lowest_mm": 2, "highest_mm": 1})
        self.assertIn("maker_gap.highest_mm", caught.exception.problems[0].path)
