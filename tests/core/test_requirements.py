"""What a sensor has to do here: as entered, else what follows; and what nobody entered is not checked."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from speedchain import evaluate
from speedchain.fields import DocumentError
from speedchain.sensor import USUAL, Requirements, Sensor, requirements_of, supply_fits
from speedchain.sensor.choice import choose_sensor
from tests.installations import CAR, CYCLE, installation


def required(kind: str = "car", fastest: float = 120.0, **sensor: Any) -> Requirements:
    return requirements_of(Sensor.model_validate({"kind": "hall_gear_tooth"} | sensor), kind, fastest)


class Speeds(TestCase):
    def test_up_to_the_fastest_check_speed_unless_entered(self) -> None:
        self.assertEqual(required().max_speed_kmh, 120)
        self.assertEqual(required(needs={"max_speed_kmh": 250}).max_speed_kmh, 250)
        result = evaluate(installation(CAR, check_speeds_kmh=[60, 180]))
        self.assertEqual(result.pulse_times.max_speed_kmh, 180)

    def test_down_to_what_is_read_on_such_a_vehicle(self) -> None:
        """5 km/h on a car, 3 on a cycle, 1.2 mph on a clean paddle: common practice."""
        for kind, least in (("car", 5), ("bicycle", 3), ("cargo_trike", 3), ("boat", 1.9)):
            self.assertEqual(required(kind).min_speed_kmh, least, kind)
        self.assertEqual(required("car", fastest=4.0).min_speed_kmh, 4)  # never above the fastest
        self.assertEqual(required("boat", needs={"min_speed_kmh": "2 mph"}).min_speed_kmh, 3.218688)

    def test_a_slowest_above_the_fastest_is_refused(self) -> None:
        with self.assertRaises(DocumentError) as caught:
            installation(CAR, sensor={"kind": "reed", "needs": {"min_speed_kmh": 100, "max_speed_kmh": 50}})
        problem = caught.exception.problems[0]
        self.assertEqual(problem.path, "sensor.needs.max_speed_kmh")
        self.assertIn("Swap them", problem.remedy)


class Supplies(TestCase):
    def test_nothing_entered_is_a_supply_that_the_sensor_takes(self) -> None:
        """Never one outside its range; 12 V on a car where it can be, the lowest usual one on a cycle."""
        for kind, facts in USUAL.items():
            for vehicle in ("car", "bicycle", "boat"):
                found = requirements_of(Sensor(kind=kind), vehicle, 100.0)
                self.assertFalse(found.supply_known)
                self.assertTrue(supply_fits(facts, found.supply_v), (kind, vehicle, found.supply_v))
        self.assertEqual(required("car").supply_v, 12)
        self.assertEqual(required("bicycle").supply_v, 5)
        narrow = USUAL["hall_gear_tooth"].model_dump() | {"supply_min_v": 3.4, "supply_max_v": 3.6}
        self.assertAlmostEqual(required("car", facts=narrow).supply_v, 3.5)

    def test_a_supply_blocks_by_its_data_and_warns_by_what_is_typical(self) -> None:
        data = USUAL["hall_gear_tooth"].model_dump()
        for facts, severity in ((None, "warning"), (data, "blocking")):
            sensor = {"kind": "hall_gear_tooth", "facts": facts, "needs": {"supply_v": 3}}
            found = {item.code: item.severity for item in evaluate(installation(CAR, sensor=sensor)).findings}
            self.assertEqual(found["sensor.supply"], severity)
        self.assertNotIn("sensor.supply", [item.code for item in evaluate(installation(CAR)).findings])

    def test_none_at_all_is_a_reason_against_what_needs_one(self) -> None:
        for supply_v, kind in ((0, "reed"), (12, "hall_switch")):
            needs = required(needs={"supply_v": supply_v, "ambient_max_c": 40})
            self.assertEqual(choose_sensor("magnets", "true_speed", 640, needs).choices[0].kind, kind)


class Temperatures(TestCase):
    def test_a_temperature_that_nobody_entered_is_not_checked(self) -> None:
        """Cycles do not get the 80 °C of an upright beside a disc; and nothing is called hot, or suitable, by
        default."""
        self.assertEqual((required("car").ambient_max_c, required("bicycle").ambient_max_c), (80, 50))
        hot = {"kind": "optical", "facts": None}
        self.assertNotIn("sensor.too_hot", [item.code for item in evaluate(installation(CAR, sensor=hot)).findings])
        hot["needs"] = {"ambient_max_c": 70}
        self.assertIn("sensor.too_hot", [item.code for item in evaluate(installation(CAR, sensor=hot)).findings])
        choices = choose_sensor("toothed_ring", "true_speed", 25_000, required())
        self.assertTrue(
            all("not checked" in " ".join(item.against) for item in choices.choices if item.verdict != "does not suit")
        )
        known = choose_sensor("toothed_ring", "true_speed", 25_000, required(needs={"ambient_max_c": 60}))
        self.assertFalse(any("not checked" in " ".join(item.against) for item in known.choices))

    def test_old_documents_keep_what_they_had(self) -> None:
        needs = {"min_speed_kmh": 5, "max_speed_kmh": 200, "supply_v": 12, "ambient_max_c": 80}
        found = installation(CYCLE, sensor={"kind": "reed", "needs": needs}).needs
        self.assertEqual((found.min_speed_kmh, found.max_speed_kmh), (5, 200))
        self.assertTrue(found.supply_known)
        self.assertTrue(found.ambient_known)
