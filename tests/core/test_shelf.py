"""Parts from the shelf: what goes with a part, what stays with the installation, and where its label is read."""

from __future__ import annotations

from datetime import date
from unittest import TestCase

from speedchain import evaluate
from speedchain.document import Torque
from speedchain.fields import DocumentError, InputError, PartLabel
from speedchain.jobs import draw_up
from speedchain.sheets.tag import tag_lines
from speedchain.shelf import contents_of, from_shelf, read_shelf_part, to_shelf
from speedchain.vehicle import labelled_by
from speedchain.vehicle.copying import copy_installation
from speedchain.wiring import wiring_sheet
from tests.installations import CAR, CYCLE, installation
from tests.kinds import of_kind

ON = date(2026, 5, 2)
SENSOR = PartLabel(name="Tip sensor", type_or_year="from 2019", number="T-40", plug="3 pins, round", side="left")
RICH = installation(
    CAR,
    sensor={
        "kind": "hall_gear_tooth",
        "maker_gap": {"lowest_mm": 0.3, "highest_mm": 1.1},
        "resistance_ohm": 1200,
        "needs": {"max_speed_kmh": 220},
        "verification": {"test": "spin", "on": "2026-04-01"},
    },
    target={
        "kind": "toothed_ring",
        "count": 36,
        "basis": "counted",
        "verification": {"test": "spin", "on": "2026-04-01"},
    },
    readouts=[
        {
            "name": "Dash",
            "encoding": "pulses_per_km",
            "current_setting": 24000,
            "minimum": 100,
            "maximum": 30000,
            "other_settings": [{"name": "Shift light", "set_to": "6500"}],
        }
    ],
)


class Taking(TestCase):
    def test_a_sensor_brings_its_permitted_gap_and_leaves_what_belongs_to_the_place(self) -> None:
        part = to_shelf(RICH, "sensor", SENSOR)
        self.assertEqual(contents_of(part), "Hall, gear tooth, single element, supply 4.5 to 24 V, gap 0.3 to 1.1 mm")
        other = installation(CAR, sensor={"kind": "variable_reluctance", "needs": {"max_speed_kmh": 90}})
        after = from_shelf(other, part, on=ON)
        assert after.sensor.maker_gap is not None
        assert after.sensor.needs is not None
        self.assertEqual((after.sensor.kind, after.sensor.maker_gap.highest_mm), ("hall_gear_tooth", 1.1))
        self.assertEqual(after.sensor.needs.max_speed_kmh, 90)
        self.assertIsNone(after.sensor.resistance_ohm)  # measured on the one that is fitted there
        self.assertIsNone(after.sensor.verification)
        self.assertEqual(after.signal.lead.plug, "3 pins, round")
        self.assertEqual(after.target, other.target)

    def test_a_ring_brings_its_count(self) -> None:
        part = to_shelf(RICH, "target", PartLabel(name="Hub ring"))
        self.assertEqual(contents_of(part), "Toothed ring, 36 per turn")
        after = from_shelf(installation(CYCLE), part, on=ON)
        self.assertEqual((after.target.kind, after.target.count, after.target.basis), ("toothed_ring", 36, "counted"))
        self.assertIsNone(after.target.verification)

    def test_a_display_brings_its_format_and_range_not_its_setting(self) -> None:
        part = to_shelf(RICH, "readout", PartLabel(name="Club dash"))
        assert part.readout is not None
        self.assertIsNone(part.readout.current_setting)
        self.assertEqual(part.readout.other_settings, ())
        after = from_shelf(installation(CYCLE, readouts__0__current_setting=2096), part, on=ON).readouts[0]
        self.assertEqual((after.name, after.encoding, after.maximum), ("Computer", "pulses_per_km", 30000))

    def test_the_same_part_leaves_what_was_found_and_another_voids_it(self) -> None:
        part = to_shelf(RICH, "target", PartLabel(name="Hub ring", number="R-36"))
        labelled = from_shelf(RICH, part, on=ON)
        self.assertIsNotNone(labelled.target.verification)  # it is what was fitted, named for the first time
        self.assertEqual(from_shelf(labelled, part, on=ON), labelled)
        other = to_shelf(RICH, "target", PartLabel(name="Hub ring", number="R-37"))
        changed = from_shelf(labelled, other, on=ON)
        assert changed.target.verification is not None
        self.assertEqual(changed.target.verification.voided_by, "target")

    def test_another_display_forgets_the_setting_of_the_one_before(self) -> None:
        first = from_shelf(RICH, to_shelf(RICH, "readout", PartLabel(name="Dash", number="1")), on=ON)
        self.assertEqual(first.readouts[0].current_setting, 24000)
        second = from_shelf(first, to_shelf(RICH, "readout", PartLabel(name="Dash", number="2")), on=ON)
        self.assertIsNone(second.readouts[0].current_setting)

    def test_another_kind_of_part_is_another_one_named_or_not(self) -> None:
        """What was measured of the old one, proved with it or entered in it is not the new one's."""
        coil = to_shelf(installation(CAR, sensor={"kind": "variable_reluctance"}), "sensor", SENSOR)
        after = from_shelf(RICH, coil, on=ON).sensor
        self.assertIsNone(after.resistance_ohm)
        assert after.verification is not None
        self.assertEqual(after.verification.voided_by, "sensor")
        length = to_shelf(installation(CYCLE), "readout", PartLabel(name="Computer"))
        display = from_shelf(RICH, length, on=ON).readouts[0]
        self.assertIsNone(display.current_setting)  # 24000 pulses per km are no millimetres
        self.assertEqual(display.other_settings, ())
        ring = to_shelf(installation(CAR), "target", PartLabel(name="Hub ring"))
        target = from_shelf(RICH, ring, on=ON).target
        assert target.verification is not None
        self.assertEqual((target.count, target.verification.voided_by), (48, "target"))

    def test_a_fixed_display_brings_the_number_it_is_made_for(self) -> None:
        fixed = installation(CAR, readouts__0__entry="fixed", readouts__0__current_setting=16000)
        after = from_shelf(RICH, to_shelf(fixed, "readout", PartLabel(name="Gauge")), on=ON).readouts[0]
        self.assertEqual((after.entry, after.current_setting), ("fixed", 16000))

    def test_where_magnets_sit_is_the_wheel_s(self) -> None:
        strong = {"remanence_mt": 1200, "radius_mm": 90, "runout_mm": 0.2}
        part = to_shelf(installation(CYCLE, target__magnets=strong), "target", PartLabel(name="Magnet"))
        here = installation(CYCLE, target__magnets={"radius_mm": 250, "runout_mm": 1.5})
        after = from_shelf(here, part, on=ON).target.magnets
        assert after is not None
        self.assertEqual((after.remanence_mt, after.radius_mm, after.runout_mm), (1200, 250, 1.5))

    def test_a_copy_for_another_corner_has_no_side_and_nothing_measured(self) -> None:
        torque = {"fastener": "torque_wheel", "torque": 110, "unit": "N·m"}
        known = from_shelf(RICH, to_shelf(RICH, "sensor", SENSOR), on=ON)
        known = known.model_copy(update={"torques": (Torque.model_validate(torque),)})
        copy = copy_installation(known, name="Right", sensed_at="front_right", vehicle_kind="car")
        assert copy.sensor.part is not None
        self.assertEqual((copy.sensor.part.number, copy.sensor.part.side), ("T-40", ""))
        self.assertIsNone(copy.sensor.resistance_ohm)
        self.assertEqual(copy.torques, ())

    def test_refused(self) -> None:
        with self.assertRaisesRegex(DocumentError, "label.name: The part has no name"):
            to_shelf(RICH, "sensor", PartLabel(number="T-40"))
        with self.assertRaisesRegex(InputError, "There is no readout 3"):
            to_shelf(RICH, "readout", PartLabel(name="x"), 2)
        with self.assertRaisesRegex(DocumentError, "holds the data of that alone"):
            read_shelf_part({"kind": "sensor", "label": {"name": "x"}, "target": {"count": 4}})


class Label(TestCase):
    def test_it_is_read_on_order_sheet_tag_and_job_sheet(self) -> None:
        known = from_shelf(RICH, to_shelf(RICH, "sensor", SENSOR), on=ON)
        result = evaluate(known)
        text = "Tip sensor, from 2019, No. T-40, side: left"
        order = {row.asked: row.answer for row in wiring_sheet(known, result).order}
        self.assertEqual(order["Sensor, name and number"], text)
        self.assertEqual(order["Target, name and number"], "not entered")
        self.assertEqual(order["Connector at the sensor"], "3 pins, round")
        self.assertIn(text, tag_lines(known, result, "sensor", vehicle="Dotterel", revision=1, on=ON))
        self.assertNotIn(text, tag_lines(known, result, "dash", vehicle="Dotterel", revision=1, on=ON))
        steps = {step.code: step for step in draw_up(known, result, "new_installation").steps}
        self.assertEqual(
            steps["parts_in_hand"].text, f"Compare the parts in hand with their names and numbers here: {text}."
        )
        plain = draw_up(RICH, evaluate(RICH), "new_installation").steps
        self.assertNotIn("parts_in_hand", [step.code for step in plain])

    def test_a_sensor_without_a_target_is_not_asked_for_the_target_s_number(self) -> None:
        hub = of_kind("hub sensor without target")
        asked = [row.asked for row in wiring_sheet(hub, evaluate(hub)).order]
        self.assertIn("Sensor, name and number", asked)
        self.assertNotIn("Target, name and number", asked)

    def test_a_part_of_the_service_page_names_what_is_fitted(self) -> None:
        known = from_shelf(RICH, to_shelf(RICH, "sensor", SENSOR), on=ON)
        self.assertEqual(labelled_by(known, "sensor", PartLabel(name="Tip sensor", number="T-40")), known)
        new = labelled_by(known, "sensor", PartLabel(name="Tip sensor", number="T-41")).sensor.part
        assert new is not None
        self.assertEqual((new.number, new.side), ("T-41", ""))
        two = installation(CAR, readouts=[{"name": n, "encoding": "pulses_per_km"} for n in ("Dash", "Logger")])
        self.assertEqual(labelled_by(two, "display", PartLabel(name="x")), two)  # which of them, nobody knows
