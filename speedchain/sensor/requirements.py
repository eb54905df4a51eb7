"""What the sensor has to do here: as entered, else what follows from the installation and is typical of the vehicle."""

from __future__ import annotations

from collections.abc import Mapping

from speedchain.results import result
from speedchain.sensor.kinds import facts_of
from speedchain.sensor.model import Sensor

ON_A_CYCLE = ("bicycle", "e_bike", "velomobile", "cargo_trike")
MIN_SPEED_KMH: Mapping[str, float] = {"boat": 1.9, **dict.fromkeys(ON_A_CYCLE, 3.0)}
"""Lowest speed that people want read: a clean paddle turns from about 1.2 mph. Others 5 km/h. Common practice."""
AMBIENT_MAX_C: Mapping[str, float] = {
    "boat": 45.0, "kart": 60.0, "land_yacht": 50.0, **dict.fromkeys(ON_A_CYCLE, 50.0),
}  # fmt: skip
"""Max. temperature at the sensor; others 80 °C, away from disc and exhaust. Common practice."""
USUAL_SUPPLIES_V = (12.0, 5.0, 3.3)
CYCLE_SUPPLIES_V = (3.3, 5.0, 12.0)


@result
class Requirements:
    """Speeds to be read [km/h], the sensor's supply [V], the temperature [°C], and which of the last two was
    entered."""

    min_speed_kmh: float
    max_speed_kmh: float
    supply_v: float
    ambient_max_c: float
    supply_known: bool
    ambient_known: bool


def requirements_of(sensor: Sensor, vehicle_kind: str, fastest_check_kmh: float) -> Requirements:
    """The requirements with nothing missing.

    A supply that was not entered is the usual one that lies within the sensor's range; none for a sensor without.

    Examples
    --------
    >>> requirements_of(Sensor(kind="hall_gear_tooth"), "car", 120.0).supply_v
    12.0
    >>> requirements_of(Sensor(kind="hall_switch"), "bicycle", 40.0).supply_v
    5.0
    """
    needs = sensor.needs
    max_speed_kmh = fastest_check_kmh if needs is None or needs.max_speed_kmh is None else needs.max_speed_kmh
    least = min(MIN_SPEED_KMH.get(vehicle_kind, 5.0), max_speed_kmh)
    return Requirements(
        min_speed_kmh=least if needs is None or needs.min_speed_kmh is None else needs.min_speed_kmh,
        max_speed_kmh=max_speed_kmh,
        supply_v=_usual_supply_v(sensor, vehicle_kind) if needs is None or needs.supply_v is None else needs.supply_v,
        ambient_max_c=(
            AMBIENT_MAX_C.get(vehicle_kind, 80.0)
            if needs is None or needs.ambient_max_c is None
            else needs.ambient_max_c
        ),
        supply_known=needs is not None and needs.supply_v is not None,
        ambient_known=needs is not None and needs.ambient_max_c is not None,
    )


def _usual_supply_v(sensor: Sensor, vehicle_kind: str) -> float:
    facts = facts_of(sensor)
    if facts.supply_max_v == 0:
        return 0.0
    usual = CYCLE_SUPPLIES_V if vehicle_kind in ON_A_CYCLE else USUAL_SUPPLIES_V
    within = [volts for volts in usual if facts.supply_min_v <= volts <= facts.supply_max_v]
    return within[0] if within else (facts.supply_min_v + facts.supply_max_v) / 2
