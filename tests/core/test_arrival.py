"""What arrives at each reader: every rule of the signal with its number, either side of its limit."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from speedchain import DocumentError, Evaluation, evaluate, read_installation
from speedchain.jobs import draw_up
from speedchain.views.signal import view_signal
from tests.installations import CAR, CYCLE, document

NEEDS = {"min_speed_kmh": 5, "max_speed_kmh": 200, "supply_v": 12, "ambient_max_c": 80}
COIL = document(CAR, sensor={"kind": "variable_reluctance", "needs": NEEDS})
HALL = document(CAR, sensor={"kind": "hall_gear_tooth", "needs": NEEDS})
CURRENT = document(
    CAR, sensor={"kind": "magnetoresistive", "needs": NEEDS}, target={"kind": "multipole_ring", "count": 48}
)
REED = document(
    CYCLE,
    sensor={"kind": "reed", "needs": {"min_speed_kmh": 3, "max_speed_kmh": 60, "supply_v": 0, "ambient_max_c": 40}},
)
CONVERTER = {"target_pulses_per_km": 16_000}


def evaluated(base: dict[str, Any], **changes: Any) -> Evaluation:
    return evaluate(read_installation(document(base, **changes)))


def codes(base: dict[str, Any], **changes: Any) -> dict[str, str]:
    return {one.code: one.severity for one in evaluated(base, **changes).findings if one.code.startswith("signal.")}


class Levels(TestCase):
    def test_nothing_entered_is_nothing_said(self) -> None:
        for base in (COIL, HALL, CURRENT, REED):
            self.assertEqual(codes(base), {})
        self.assertEqual(evaluated(HALL).signal_detail.arriving.text, "no pull-up: stays low")
        self.assertEqual(evaluated(COIL).signal_detail.arriving.text, "a coil: measure its voltage at one frequency")

    def test_an_open_collector_needs_a_pull_up_somewhere(self) -> None:
        self.assertEqual(codes(HALL, readouts__0__input={}), {"signal.no_pull_up": "blocking"})
        self.assertEqual(codes(HALL, readouts__0__input={"pull_up_ohm": 4700}), {})
        self.assertEqual(codes(HALL, readouts__0__input={}, signal={"lead": {"pull_up_ohm": "4k7"}}), {})
        self.assertEqual(codes(REED, readouts__0__input={"dead_time_ms": 2}), {"signal.no_pull_up": "blocking"})

    def test_two_pull_ups_share_the_voltage(self) -> None:
        """Superposition of two sources: 4700 Ω to 12 V and 4700 Ω to 5 V meet at 8.5 V."""
        lead = {"pull_up_ohm": 4700, "pull_up_v": 12}
        both = evaluated(HALL, signal={"lead": lead}, readouts__0__input={"pull_up_ohm": 4700, "supply_v": 5})
        arriving = both.signal_detail.arriving
        assert arriving.levels is not None
        self.assertAlmostEqual(arriving.levels.high_v, 8.5)
        self.assertAlmostEqual(arriving.pull_up_ohm or 0, 2350)

    def test_a_pull_up_outside_goes_to_the_reader_s_supply_unless_said(self) -> None:
        plain = evaluated(HALL, signal={"lead": {"pull_up_ohm": 2200}})
        assert plain.signal_detail.arriving.levels is not None
        self.assertEqual(plain.signal_detail.arriving.levels.high_v, 12)

    def test_too_high_a_level_is_told_before_it_is_connected(self) -> None:
        lead = {"lead": {"pull_up_ohm": 2200, "pull_up_v": 12}}
        self.assertEqual(
            codes(HALL, signal=lead, readouts__0__input={"max_input_v": 5.5}), {"signal.over_voltage": "blocking"}
        )
        self.assertEqual(codes(HALL, signal=lead, readouts__0__input={"max_input_v": 15}), {})

    def test_levels_against_what_the_reader_takes(self) -> None:
        def at(load: float, **given: Any) -> dict[str, str]:
            return codes(CURRENT, signal={"lead": {"load_ohm": load}}, readouts__0__input=given)

        self.assertEqual(at(100), {"signal.high_level": "blocking"})  # 0.7 and 1.4 V
        self.assertEqual(at(300), {"signal.low_level": "blocking"})  # 2.1 and 4.2 V
        self.assertEqual(at(300, max_low_v=2.2, min_high_v=3), {})
        squared = {"lead": {"load_ohm": 100}, "conditioner": {"kind": "comparator"}}
        self.assertEqual(codes(CURRENT, signal=squared, readouts__0__input={}), {})

    def test_measured_levels_stand_above_all_that_is_worked_out(self) -> None:
        detail = evaluated(HALL, signal={"measured": {"low_v": 1.86, "high_v": 3.84}}).signal_detail
        assert detail.arriving.levels is not None
        self.assertEqual((detail.arriving.levels.low_v, detail.arriving.levels.high_v), (1.86, 3.84))
        stage = next(
            one
            for one in evaluated(HALL, signal={"measured": {"low_v": 1, "high_v": 4}}).stages
            if one.stage == "signal"
        )
        self.assertEqual(stage.evidence, "measured")

    def test_a_two_wire_sensor_without_a_load(self) -> None:
        self.assertEqual(codes(CURRENT, readouts__0__input={}), {"signal.no_load": "blocking"})

    def test_a_long_lead_with_a_large_pull_up_rises_too_slowly(self) -> None:
        lead = {"pull_up_ohm": 100_000, "pull_up_v": 5, "length_m": 5}
        found = evaluated(HALL, signal={"lead": lead})
        self.assertIn("signal.slow_rise", [one.code for one in found.findings])
        most = found.signal_detail.arriving.largest_pull_up_ohm
        assert most is not None
        self.assertNotIn("signal.slow_rise", codes(HALL, signal={"lead": lead | {"pull_up_ohm": most}}))

    def test_a_comparator_that_cannot_be_made_says_why(self) -> None:
        noisy = {"lead": {"load_ohm": 100}, "conditioner": {"kind": "comparator", "noise_v": 0.2}}
        self.assertEqual(codes(CURRENT, signal=noisy), {"signal.comparator": "blocking"})
        high = {"measured": {"low_v": 9, "high_v": 11}, "conditioner": {"kind": "comparator", "supply_v": 5}}
        found = evaluated(HALL, signal=high).findings[0]
        self.assertIn("outside the supply of 5 V", found.message)
        self.assertIn("divide the signal", found.remedy)


class Wires(TestCase):
    def test_a_permanent_feed_without_a_fuse(self) -> None:
        self.assertEqual(codes(HALL, signal={"lead": {"permanent_feed": True}}), {"signal.no_fuse": "warning"})
        self.assertEqual(codes(HALL, signal={"lead": {"permanent_feed": True, "fuse_a": "500 mA"}}), {})

    def test_ignition_and_shields(self) -> None:
        for lead, found in (
            ({"near_ignition": True}, {"signal.ignition": "warning"}),
            ({"near_ignition": True, "twisted": True}, {"signal.ignition": "warning"}),
            ({"near_ignition": True, "twisted": True, "shield": "one_end"}, {}),
            ({"shield": "both_ends"}, {"signal.shield": "note"}),
        ):
            with self.subTest(lead=lead):
                self.assertEqual(codes(HALL, signal={"lead": lead}), found)


class Coils(TestCase):
    def at(self, measured_vpp: float, **conditioner: Any) -> dict[str, str]:
        point = {"measured_vpp": measured_vpp, "at_hz": 100}
        return codes(COIL, signal={"vr": point, "conditioner": {"kind": "vr_converter", **conditioner}})

    def test_over_driven_close_to_it_and_clamped(self) -> None:
        # 48 teeth on 1927 mm at 200 km/h: 1384 Hz, so 13.84 times what is measured at 100 Hz
        self.assertEqual(self.at(2, max_input_vpp=27), {"signal.over_driven": "blocking"})
        self.assertEqual(self.at(2, max_input_vpp=28), {"signal.over_driven": "warning"})
        self.assertEqual(self.at(2, max_input_vpp=34), {"signal.over_driven": "warning"})
        self.assertEqual(self.at(2, max_input_vpp=35), {})
        self.assertEqual(self.at(2, max_input_vpp=10, clamped=True), {})

    def test_a_coil_into_a_comparator_is_biased_and_clamped(self) -> None:
        """2 V at 100 Hz is 13.84 V at 100 km/h (692 Hz): ± 6.92 V around 0, or around 2.5 V, cut at 0 and 5 V."""

        def seen(**conditioner: Any) -> tuple[dict[str, str], Any]:
            signal = {"vr": {"measured_vpp": 2, "at_hz": 100}, "conditioner": {"kind": "comparator"} | conditioner}
            levels = evaluated(COIL, signal=signal).signal_detail.arriving.levels
            return codes(COIL, signal=signal), levels

        found, levels = seen()
        self.assertEqual(found, {"signal.comparator": "blocking"})
        self.assertAlmostEqual(levels.low_v, -6.92, delta=0.02)
        found, levels = seen(biased=True)
        self.assertEqual(found, {"signal.comparator": "blocking", "signal.over_driven": "blocking"})
        found, levels = seen(biased=True, clamped=True)
        self.assertEqual((found, levels.low_v, levels.high_v), ({}, 0.0, 5.0))

    def test_a_sensor_that_a_brake_unit_reads_is_not_loaded(self) -> None:
        buffered = {"kind": "comparator", "input_resistor_ohm": 150_000}
        for signal, found in (
            ({"lead": {"shared": True}}, {"signal.shared_loaded": "blocking"}),
            (
                {"lead": {"shared": True, "pull_up_ohm": 4700}, "conditioner": buffered},
                {"signal.shared_loaded": "blocking"},
            ),
            ({"lead": {"shared": True}, "conditioner": buffered}, {}),
        ):
            self.assertEqual(
                {code: said for code, said in codes(HALL, signal=signal).items() if "shared" in code}, found
            )
        known = read_installation(document(CAR, signal={"lead": {"shared": True}}))
        self.assertIn("shared", [item.code for item in evaluate(known).cautions])
        lamps = [
            step for step in draw_up(known, evaluate(known), "new_installation").steps if "warning lamp" in step.text
        ]
        self.assertTrue(lamps and lamps[0].safety)

    def test_too_weak_at_the_lowest_speed(self) -> None:
        self.assertEqual(self.at(1, arming_v=0.3), {"signal.vr_slow": "warning"})
        self.assertEqual(self.at(2, arming_v=0.3), {})

    def test_its_levels_are_half_its_swing_either_way(self) -> None:
        detail = evaluated(COIL, signal={"vr": {"measured_vpp": 2, "at_hz": 100}}).signal_detail
        assert detail.arriving.levels is not None
        self.assertAlmostEqual(detail.arriving.levels.high_v, 6.918, places=3)  # 691.8 Hz at 100 km/h
        self.assertAlmostEqual(detail.arriving.levels.low_v, -6.918, places=3)

    def test_the_gap_counts_where_it_is_known(self) -> None:
        ring = {"kind": "toothed_ring", "count": 48, "ring": {"diameter_mm": 96}}
        signal = {"vr": {"measured_vpp": 2, "at_hz": 100, "air_gap_mm": 0.5}}
        near = evaluated(COIL, target=ring, placement={"air_gap_mm": 0.5}, signal=signal).signal_detail.coil
        far = evaluated(COIL, target=ring, placement={"air_gap_mm": 1.5}, signal=signal).signal_detail.coil
        assert near is not None
        assert far is not None
        self.assertEqual(near.gap_factor, 1)
        self.assertAlmostEqual(far.gap_factor, 2.718281828**-1.0, places=6)  # pitch 2π mm: e⁻¹ in a millimetre

    def test_both_ways_with_it_have_numbers(self) -> None:
        installation = read_installation(document(COIL, signal={"vr": {"measured_vpp": 2, "at_hz": 100}}))
        kept, replaced = view_signal(installation, evaluate(installation)).coil_ways
        self.assertIn("V peak to peak", kept.at_top)
        self.assertIn("max. input of the VR conditioner is not known", kept.text)
        self.assertEqual(replaced.min_speed_kmh, 0)
        self.assertIn("1384 of 15000 Hz", replaced.at_top)


class Rates(TestCase):
    def test_each_stage_against_what_it_follows(self) -> None:
        for path, limit in (
            ("signal__conditioner", {"kind": "comparator", "max_frequency_hz": 1000}),
            ("signal__converter", CONVERTER | {"max_input_hz": 1000}),
            ("signal__converter", CONVERTER | {"max_output_hz": 800}),
            ("readouts__0__input", {"pull_up_ohm": 2200, "max_frequency_hz": 1000}),
            ("readouts__0__input", {"pull_up_ohm": 2200, "dead_time_ms": 1}),
        ):
            with self.subTest(path, limit=limit):
                found = codes(HALL, **{path: limit})
                self.assertEqual(found.get("signal.too_fast"), "blocking")

    def test_a_filter_longer_than_the_pulse(self) -> None:
        short = {"pull_up_ohm": 2200, "min_pulse_us": 400}
        self.assertEqual(codes(HALL, readouts__0__input=short).get("signal.short_pulse"), "blocking")
        self.assertEqual(codes(HALL, readouts__0__input=short | {"min_pulse_us": 300}), {})

    def test_a_contact_that_bounces(self) -> None:
        found = codes(REED, readouts__0__input={"pull_up_ohm": 47_000})
        self.assertEqual(found, {"signal.bounce": "warning"})
        self.assertEqual(codes(REED, readouts__0__input={"pull_up_ohm": 47_000, "dead_time_ms": 2}), {})
        self.assertEqual(codes(REED, readouts__0__input={"pull_up_ohm": 47_000, "min_pulse_us": 1500}), {})

    def test_the_rows_are_the_way_of_the_pulses(self) -> None:
        rows = evaluated(
            HALL, signal={"conditioner": {"kind": "comparator"}, "converter": CONVERTER},
            readouts=[
                {"name": "Gauge", "encoding": "pulses_per_km"},
                {"name": "Logger", "encoding": "pulses_per_km", "before_converter": True},
            ],
        ).signal_detail.rates  # fmt: skip
        self.assertEqual(
            [row.stage for row in rows], ["sensor", "conditioner", "converter_in", "converter_out", "reader", "reader"]
        )
        self.assertAlmostEqual(rows[3].top_hz, 16_000 * 200 / 3600, places=2)
        self.assertAlmostEqual(rows[3].shortest_ms, 500 / rows[3].top_hz)  # half of a period
        self.assertEqual(rows[4].top_hz, rows[3].top_hz)
        self.assertEqual(rows[5].top_hz, rows[0].top_hz)


class Converters(TestCase):
    def test_readers_behind_it_get_other_pulses(self) -> None:
        both = evaluated(
            HALL, signal={"converter": CONVERTER},
            readouts=[
                {"name": "Gauge", "encoding": "pulses_per_km", "current_setting": 16_000},
                {"name": "Logger", "encoding": "pulses_per_km", "before_converter": True},
            ],
        )  # fmt: skip
        self.assertAlmostEqual(both.shown.shown_kmh, 100, delta=0.01)
        self.assertAlmostEqual(both.readouts[0].delivered_per_km, 16_000, delta=1)
        self.assertAlmostEqual(both.readouts[1].delivered_per_km, both.pulses_per_km)

    def test_a_cable_gauge_turned_by_a_motor(self) -> None:
        converter = {"drives": "mechanical", "cable_turns_per_km": "1000 per mile", "motor_pulses": 200}
        conversion = evaluated(HALL, signal={"converter": converter}).signal_detail.conversion
        assert conversion is not None
        self.assertAlmostEqual(conversion.target_pulses_per_km, 200_000 / 1.609344, places=3)

    def test_the_output_stays_at_its_cap(self) -> None:
        capped = evaluated(HALL, signal={"converter": CONVERTER | {"cap_kmh": 90}}).signal_detail
        assert capped.conversion is not None
        self.assertAlmostEqual(capped.conversion.out_hz, 16_000 * 90 / 3600, places=1)
        self.assertAlmostEqual(capped.rates[-1].top_hz, 16_000 * 90 / 3600, places=1)

    def test_error_and_delay_over_the_range(self) -> None:
        converter = {"target_pulses_per_km": 8000, "max_numerator": 1, "cap_kmh": 150, "averaged": 3}
        installation = read_installation(document(HALL, signal={"converter": converter}))
        rows = view_signal(installation, evaluate(installation)).over_range
        self.assertEqual([row.kmh for row in rows], [5, 100, 200])
        self.assertAlmostEqual(rows[1].error_kmh / 100, rows[0].error_kmh / 5)
        self.assertTrue(rows[2].capped)
        self.assertAlmostEqual(rows[2].error_kmh, 150 * (1 + rows[1].error_kmh / 100) - 200, places=6)
        self.assertAlmostEqual(rows[0].latency_ms, 1000 * (3 / rows[0].in_hz + 1 / rows[0].out_hz))

    def test_a_gauge_that_falls_back_is_warned_of_until_it_is_capped(self) -> None:
        gauge = {"name": "Gauge", "encoding": "pulses_per_km", "current_setting": 16_000, "scale_end_kmh": 180}
        wraps = [gauge | {"past_end": "wraps"}]
        self.assertEqual(codes(HALL, signal={"converter": CONVERTER}, readouts=wraps), {"signal.wraps": "warning"})
        self.assertEqual(codes(HALL, signal={"converter": CONVERTER}, readouts=[gauge]), {})
        self.assertEqual(codes(HALL, signal={"converter": CONVERTER | {"cap_kmh": 180}}, readouts=wraps), {})
        late = codes(HALL, signal={"converter": CONVERTER | {"cap_kmh": 190}}, readouts=wraps)
        self.assertEqual(late, {"signal.wraps": "warning"})

    def test_a_coarse_ratio_and_one_out_of_reach(self) -> None:
        coarse = CONVERTER | {"max_numerator": 2, "max_denominator": 2}
        self.assertEqual(codes(HALL, signal={"converter": coarse}), {"signal.ratio_error": "warning"})
        divider = {"target_pulses_per_km": 16, "max_numerator": 1, "max_denominator": 30}
        found = codes(HALL, signal={"converter": divider})
        self.assertEqual(found, {"signal.ratio": "blocking"})
        self.assertEqual(codes(HALL, signal={"converter": divider | {"stages": 2, "max_denominator": 60}}), {})

    def test_what_is_not_said_is_asked_for_by_name(self) -> None:
        for converter, path in (
            ({}, "signal.converter.target_pulses_per_km"),
            ({"drives": "mechanical"}, "signal.converter.cable_turns_per_km"),
            (
                CONVERTER | {"max_denominator": 9, "setting": [{"denominator": 10}]},
                "signal.converter.setting.0.denominator",
            ),
        ):
            with self.subTest(path), self.assertRaises(DocumentError) as caught:
                evaluated(HALL, signal={"converter": converter})
            self.assertEqual(caught.exception.problems[0].path, path)

    def test_levels_the_wrong_way_round(self) -> None:
        for change, path in (
            ({"signal": {"measured": {"low_v": 4, "high_v": 1}}}, "signal.measured.high_v"),
            ({"signal": {"lead": {"low_ma": 14, "high_ma": 7}}}, "signal.lead.high_ma"),
            ({"readouts__0__input": {"max_low_v": 3, "min_high_v": 2}}, "readouts.0.input.min_high_v"),
        ):
            with self.subTest(path), self.assertRaises(DocumentError) as caught:
                evaluated(HALL, **change)
            self.assertEqual(caught.exception.problems[0].path, path)


class Smoothing(TestCase):
    def test_the_advised_capacitor_keeps_its_promise(self) -> None:
        for stages, c_nf, hz in ((1, 10, 200), (2, 10, 200), (2, 1000, 1000), (1, 100, 20_000)):
            installation = read_installation(
                document(HALL, signal={"analogue": {"stages": stages, "c_nf": c_nf, "pwm_hz": hz}})
            )
            analogue = view_signal(installation, evaluate(installation)).analogue
            assert analogue is not None
            with self.subTest(stages=stages, c_nf=c_nf, hz=hz):
                self.assertLessEqual(analogue.advised.ripple_vpp, 0.01 * 5)

    def test_a_load_pulls_the_reading_down(self) -> None:
        installation = read_installation(
            document(HALL, signal={"analogue": {"r_ohm": "10k0", "load_ohm": "180 kΩ", "stages": 2}})
        )
        analogue = view_signal(installation, evaluate(installation)).analogue
        assert analogue is not None
        self.assertAlmostEqual(analogue.outputs[-1].volts, 5 * 180 / 200)
        self.assertAlmostEqual(analogue.outputs[-1].shown_kmh, 200 * 180 / 200)
        self.assertIn("10 %", analogue.text)
