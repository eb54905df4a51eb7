"""Rules about target, sensor and placement together: what will not be seen, touch, double or burn."""

from __future__ import annotations

from collections.abc import Callable

from speedchain.fields.evidence import StageName
from speedchain.placement.channels import GOOD_DEG
from speedchain.placement.evaluate import PlacementDetail
from speedchain.placement.model import Placement
from speedchain.placement.strength import depth_share
from speedchain.sensor import NO_TARGET, PAIRED, Needs, Sensor, facts_of
from speedchain.stages.findings import Finding, Severity
from speedchain.target.model import FERROMAGNETIC, FERROUS, Target
from speedchain.target.ring import RingShape
from speedchain.target.spokes import chosen_spokes, flutter_pct, spacing_of_deg

COMFORTABLE = 1.3
"""Below this ratio a signal is there, but dirt and a knock are enough to lose it. Common practice."""
ACROSS_DEG = 45.0
SHALLOW = 0.85
UNEVEN_PCT = 2.0
"""Flutter from which a display is seen to flicker. Common practice."""

Add = Callable[[str, Severity, StageName, str, str], None]


def _words(code: str) -> str:
    return code.replace("_", " ")


def check_placement(
    target: Target,
    shape: RingShape | None,
    sensor: Sensor,
    placement: Placement | None,
    result: PlacementDetail,
    findings: list[Finding],
) -> None:
    """Add what there is to say about target and placement; nothing about a placement nobody entered."""

    def add(code: str, severity: Severity, stage: StageName, message: str, remedy: str) -> None:
        findings.append(Finding(code, severity, stage, message, remedy))

    _check_ring(target, shape, sensor, add)
    _check_spokes(target, add)
    if placement is not None and placement.bracket is not None and placement.bracket.whips:
        bracket = placement.bracket
        add(
            "placement.whippy",
            "note",
            "sensor",
            f"A bracket {bracket.reach_mm:g} mm long from {bracket.thickness_mm:g} mm plate whips, and that is runout.",
            "Use thicker plate, a shorter reach, or bend an edge on it.",
        )
    if placement is None or not result.possible:
        return
    here = f"at {result.air_gap_mm:.2f} mm of gap"
    _check_clocking(sensor, result, add)
    if target.magnets is not None and target.single:
        if facts_of(sensor).unipolar and target.magnets.pole == "north":
            add(
                "placement.pole",
                "blocking",
                "sensor",
                "A switch for one pole does not work at the north pole.",
                "Turn the magnet round: its south pole faces the marked side of the sensor.",
            )
            return
        if facts_of(sensor).unipolar and target.magnets.pole == "unknown":
            add(
                "placement.pole_unknown",
                "note",
                "sensor",
                "This switch works at one pole only, and which pole faces it is not known.",
                "Wave the magnet past it both ways round before it is glued; then enter the pole at the target.",
            )
        if result.magnet_pass and result.magnet_pass.closures > 1 and result.weakest >= 1:
            add(
                "placement.double",
                "blocking",
                "sensor",
                f"Both lobes of the field work the switch: {result.magnet_pass.closures} pulses for each magnet.",
                "Shift the reed so that only one of its ends passes the magnet, or turn it across the travel.",
            )
    if result.highest_gap_mm < result.lowest_gap_mm and sensor.kind == "reed":
        add(
            "placement.reed_end",
            "blocking",
            "sensor",
            "A reed closes when one of its ends passes the magnet; with its middle over the path both ends cancel.",
            f"Shift it by about {facts_of(sensor).element_length_mm / 2:.2g} mm along its length, so that one end passes "
            "the middle of the magnet.",
        )
    elif result.highest_gap_mm < result.lowest_gap_mm:
        loses = "the magnet" if target.single else "teeth"
        add(
            "placement.no_window",
            "blocking",
            "sensor",
            f"No gap is right: below {result.lowest_gap_mm:.2f} mm it can touch, above "
            f"{max(result.highest_gap_mm, 0):.2f} mm it loses {loses}.",
            _remedy_no_window(target, result),
        )
    elif result.air_gap_mm < result.lowest_gap_mm:
        add(
            "placement.touches",
            "blocking",
            "sensor",
            f"The gap of {result.air_gap_mm:.2f} mm closes: runout, play and heat take "
            f"{result.moves_mm + result.heat_mm:.2f} mm, and 0.2 mm has to be left.",
            f"Set {result.lowest_gap_mm:.2f} to {result.highest_gap_mm:.2f} mm, and turn the wheel once by hand all round.",
        )
    elif result.weakest < 1:
        add(
            "placement.too_weak",
            "blocking",
            "sensor",
            f"It will miss {'the magnet' if target.single else 'teeth'} {here}: at the furthest point of a turn the "
            f"signal is {100 * result.weakest:.0f} % of what this sensor needs.",
            f"Set {result.lowest_gap_mm:.2f} to {result.highest_gap_mm:.2f} mm.",
        )
    elif result.weakest < COMFORTABLE:
        add(
            "placement.barely",
            "note",
            "sensor",
            f"The signal is {result.weakest:.2f} times what is needed at the furthest point of a turn: dirt or a knock "
            "can lose it.",
            "Come closer to the middle of the window, or centre it on the sensing element.",
        )
    if result.channels is not None and abs(result.channels.error_deg) > GOOD_DEG:
        severity: Severity = "blocking" if result.channels.leads == "neither" else "warning"
        add("placement.channels", severity, "sensor", result.channels.words, "Shift one of the two along the ring.")


def _remedy_no_window(target: Target, result: PlacementDetail) -> str:
    if target.single:
        return "Use a stronger magnet, or centre the sensor on its path."
    if result.allowed_gap_mm <= 0:
        return "Centre the element over the teeth and mind how it is turned."
    return "Take less runout, fewer and coarser teeth, or a sensor rated for this pitch."


def _check_ring(target: Target, shape: RingShape | None, sensor: Sensor, add: Add) -> None:
    ring = target.ring
    if ring is None or shape is None:
        return
    if target.kind in FERROUS and ring.material not in FERROMAGNETIC and sensor.kind != "optical":
        add(
            "target.not_ferrous",
            "blocking",
            "target",
            f"A target of {_words(ring.material)} is not magnetic: the teeth cannot be seen.",
            "Use steel, or put magnets on it. Test with a magnet: it has to stick.",
        )
    if ring.missing_teeth:
        add(
            "target.missing_tooth",
            "warning",
            "target",
            f"{shape.places} places with {ring.missing_teeth} missing: once in a turn a reader that times single pulses "
            f"dips to {100 / (1 + ring.missing_teeth):.0f} % of the speed.",
            "A crank ring is wrong for speed: use an even ring, or average over whole turns.",
        )
    if shape.depth_mm is not None and sensor.kind in (*PAIRED, "hall_gear_tooth", "variable_reluctance"):
        share = float(depth_share(shape.depth_mm, shape.pitch_mm))
        if share < SHALLOW:
            add(
                "target.shallow",
                "warning",
                "target",
                f"Teeth {shape.depth_mm:.2g} mm deep at {shape.pitch_mm:.3g} mm from one to the next give "
                f"{100 * share:.0f} % of what deep ones give.",
                f"Cut them {0.37 * shape.pitch_mm:.2g} mm deep or more, or come closer.",
            )
    if sensor.kind in (*PAIRED, "hall_gear_tooth", "variable_reluctance"):
        facts = facts_of(sensor)
        if shape.pitch_mm < 0.5 * facts.rated_pitch_mm:
            add(
                "target.too_fine",
                "warning",
                "target",
                f"Teeth every {shape.pitch_mm:.2g} mm are fine for this sensor: it is rated {facts.rated_air_gap_mm:g} mm "
                f"of gap at {facts.rated_pitch_mm:g} mm.",
                "The gap has to shrink with the pitch: use fewer teeth, or a larger ring.",
            )


def _check_spokes(target: Target, add: Add) -> None:
    spokes = chosen_spokes(target)
    if len(spokes) < 2:
        return
    low, high = flutter_pct(spacing_of_deg(spokes))
    worst = max(-low, high)
    if worst > UNEVEN_PCT:
        add(
            "target.uneven",
            "warning",
            "target",
            f"The magnets are not evenly spaced: a reader that times single pulses swings by {low:+.1f} to {high:+.1f} %.",
            "Choose a better set in the spoke planner, let the reader average whole turns, or use fewer magnets.",
        )


def _check_clocking(sensor: Sensor, result: PlacementDetail, add: Add) -> None:
    if sensor.kind not in PAIRED:
        return
    off = abs((result.clocking_angle_deg + 90) % 180 - 90)
    if off > ACROSS_DEG:
        add(
            "placement.clocked_wrong",
            "blocking",
            "sensor",
            f"A differential sensor turned {off:.0f}° from the row sees the same with both elements: no signal.",
            "Clock it with the row of teeth, 0°. A quarter turn loses the signal.",
        )


def check_rates(
    sensor: Sensor, top_hz: float, max_speed_kmh: float, needs: Needs | None, findings: list[Finding]
) -> None:
    """Whether the sensor keeps up at top speed, stands the supply and the heat."""
    facts = facts_of(sensor)
    grounds = "its data" if sensor.facts else "usual for its kind"
    if top_hz > facts.max_frequency_hz and sensor.kind not in NO_TARGET:
        findings.append(
            Finding(
                "sensor.too_fast",
                "blocking" if sensor.facts else "warning",
                "sensor",
                f"At {max_speed_kmh:g} km/h the target gives {top_hz:.0f} Hz; this sensor follows up to {facts.max_frequency_hz:g} Hz "
                f"({grounds}).",
                "Use fewer teeth or magnets, or a faster kind of sensor.",
            )
        )
    if needs is None:
        return
    if (
        facts.supply_max_v > 0
        and facts.supply_min_v > 0
        and not (facts.supply_min_v <= needs.supply_v <= facts.supply_max_v)
    ):
        findings.append(
            Finding(
                "sensor.supply",
                "warning",
                "sensor",
                f"The supply of {needs.supply_v:g} V is outside {facts.supply_min_v:g} to {facts.supply_max_v:g} V "
                f"({grounds}).",
                "Use a regulated supply of the right voltage, or another sensor. Fuse it at the battery.",
            )
        )
    if needs.ambient_max_c > facts.temperature_max_c:
        findings.append(
            Finding(
                "sensor.too_hot",
                "warning",
                "sensor",
                f"It gets {needs.ambient_max_c:g} °C there; this sensor stands {facts.temperature_max_c:g} °C ({grounds}).",
                "Move it away from disc and exhaust, shield it, or use one for more heat.",
            )
        )
