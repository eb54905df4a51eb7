"""How far a tyre is flattened where it stands: by its construction, or by the height of its axle."""

from __future__ import annotations

from collections.abc import Mapping

from speedchain.fields import Words, text_of
from speedchain.results import result
from speedchain.uncertainty import Budget, UncertaintyInput, rectangular
from speedchain.wheel.marking import parse_marking
from speedchain.wheel.model import Construction, Wheel
from speedchain.wheel.nominal import diameter_budget

DEFLECTIONS_PCT: Mapping[Construction, tuple[float, float]] = {
    "radial": (5.0, 8.0),
    "crossply": (2.0, 6.0),
    "motorcycle": (2.0, 5.0),
    "bicycle": (0.5, 2.5),
    "balloon": (2.0, 8.0),
    "solid": (0.0, 0.5),
    "auto": (0.0, 8.0),
}
"""Deflection over radius at working load and pressure, from and to [%]; the last where nothing is known of the tyre.
Car radials: the trade's range, from memory; the others: common practice, our allowance."""
BALLOON_FROM_MM = 65.0
"""A cycle tyre this wide is ridden soft. Common practice."""
EFFECTIVE_SHARE = 1 / 3
"""The effective radius is R − share·d. Jazar, Vehicle Dynamics; from memory."""
EFFECTIVE_SHARE_U = 1 / 12
"""Standard uncertainty of that share for one tyre: 0.5 % of the circumference of a car's radial. Our allowance."""
_OF_KIND: Mapping[str, Construction] = {
    "car": "radial", "motorcycle": "motorcycle", "scooter": "motorcycle", "sidecar": "motorcycle", "kart": "crossply",
    "atv": "balloon", "land_yacht": "crossply", "bicycle": "bicycle", "e_bike": "bicycle", "velomobile": "bicycle",
    "cargo_trike": "bicycle", "boat": "solid", "other": "auto",
}  # fmt: skip
_NAMES: Mapping[Construction, Words] = {
    "radial": "a radial tyre of a car",
    "crossply": "a crossply tyre",
    "motorcycle": "a motorcycle tyre",
    "bicycle": "a bicycle tyre",
    "balloon": "a wide soft tyre",
    "solid": "a solid wheel",
    "auto": "a tyre of unknown construction",
}


@result
class Deflection:
    """Deflection over radius (dimensionless), how far off that may be [% of the radius], and the words beside it."""

    share: float
    budget: Budget
    text: Words


def construction_of(wheel: Wheel, vehicle_kind: str) -> Construction:
    """The tyre's construction: as entered, else by its marking and the kind of vehicle.

    Examples
    --------
    >>> construction_of(Wheel(method="marking", marking={"text": "205/55R16"}), "car")
    'radial'
    >>> construction_of(Wheel(method="marking", marking={"text": "26x4.0"}), "bicycle")
    'balloon'
    """
    if wheel.construction != "auto":
        return wheel.construction
    usual = _OF_KIND.get(vehicle_kind, "auto")
    if wheel.marking is None:
        return usual
    marking = parse_marking(wheel.marking.text)
    if usual == "bicycle":
        return "balloon" if marking.section_mm >= BALLOON_FROM_MM else usual
    if usual in ("radial", "auto"):
        return "radial" if marking.radial else "crossply"
    return usual


def deflection_of(wheel: Wheel, vehicle_kind: str) -> Deflection:
    """δ = 1 − R_loaded/R where the height of the axle was measured, else the middle of what the construction shows.

    Returns
    -------
    `Deflection`; the inputs of a measured one are those of the axle height, so that both share their errors.

    References
    ----------
    JCGM 100:2008, 4.3.7 (bounds) and 5.1.2; `DEFLECTIONS_PCT`.

    Examples
    --------
    >>> wheel = Wheel(method="taped_diameter", taped_diameter={"diameter_mm": 620})
    >>> deflection_of(wheel, "car").share, deflection_of(wheel, "bicycle").share
    (0.065, 0.015)
    >>> known = {"axle_height_mm": 300, "unloaded_diameter_mm": 630}
    >>> measured = Wheel(method="axle_height", axle_height=known)
    >>> round(deflection_of(measured, "car").share, 4)
    0.0476
    """
    entry, unloaded = wheel.axle_height, wheel.unloaded_diameter_mm()
    if entry is not None and unloaded is not None:
        radius_mm, loaded_mm = unloaded / 2, entry.axle_height_mm
        ratio = min(loaded_mm / radius_mm, 1.0)
        reading_mm = rectangular(entry.reading_mm)
        radius: Budget = (
            diameter_budget()
            if entry.unloaded_diameter_mm is None
            else (UncertaintyInput(source="diameter without load", u_pct=100 * reading_mm / 2 / radius_mm),)
        )
        return Deflection(
            share=1 - ratio,
            budget=(
                *[UncertaintyInput(source=part.source, u_pct=ratio * part.u_pct) for part in radius],
                UncertaintyInput(source="axle height", u_pct=-100 * reading_mm / radius_mm),
            ),
            text=text_of("flattened by δ = {0:.1f} % of its radius, from the axle height", 100 * (1 - ratio)),
        )
    construction = construction_of(wheel, vehicle_kind)
    low, high = DEFLECTIONS_PCT[construction]
    return Deflection(
        share=(low + high) / 200,
        budget=(UncertaintyInput(source="deflection", u_pct=rectangular((high - low) / 2)),),
        text=text_of("{0} is flattened by {1:g} to {2:g} % of its radius δ", _NAMES[construction], low, high),
    )


def effective_radius(share: float) -> UncertaintyInput:
    """How well R − d/3 describes one tyre, in the circumference: the share's uncertainty times δ.

    Examples
    --------
    >>> round(effective_radius(0.065).u_pct, 2)
    0.54
    """
    return UncertaintyInput(source="effective radius", u_pct=100 * EFFECTIVE_SHARE_U * share)
