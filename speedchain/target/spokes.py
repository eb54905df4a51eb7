"""The spoke planner: on which spokes of a laced wheel magnets come out even, and what the rest costs."""

from __future__ import annotations

import itertools
import math

import numpy as np
from numpy.typing import NDArray

from speedchain.fields import InputError, Interval, Words, joined, text_of
from speedchain.results import result
from speedchain.target.model import SpokeWheel, Target

SPOKE_MM = 2.0
MAX_SETS = 12
MOST_MAGNETS = 9
MOST_LOOKED_AT = 20_000
HUB_CLEARANCE_MM = 10.0
RIM_CLEARANCE_MM = 20.0


@result
class Spoke:
    """One spoke of this side, numbered where it meets the rim, clockwise: hub end, rim end and magnet place.

    Points are in the plane of the wheel [mm], x to the right and y up; `plane` 0 runs outside of the flange,
    1 inside of it; `axial_mm` is the place of the magnet from the middle plane of the rim.
    """

    number: int
    plane: int
    hub: tuple[float, float]
    rim: tuple[float, float]
    at: tuple[float, float]
    angle_deg: float
    axial_mm: float


@result
class SpokeSet:
    """One choice of spokes: its numbers, how to count them, and how even it comes out at this radius."""

    spokes: tuple[int, ...]
    steps: tuple[int, ...]
    text: Words
    spacing_deg: tuple[float, ...]
    error_deg: float
    plane_offset_mm: float
    ripple_low_pct: float
    ripple_high_pct: float
    same_plane: bool
    in_use: bool


@result
class Window:
    """Radii at which a magnet can sit [mm], and the gap's change over it."""

    low_mm: float
    high_mm: float


@result
class SpokePlan:
    """All sets of spokes worth a look, the best first, and the laced wheel they are on."""

    magnets: int
    radius_mm: float
    rim_diameter_mm: float
    flange_diameter_mm: float
    magnet_mm: float
    per_side: int
    per_plane: int
    spokes: tuple[Spoke, ...]
    sets: tuple[SpokeSet, ...]
    windows: tuple[Window, ...]
    crossings_mm: tuple[float, ...]
    numbering: Words
    rule: Words
    rule_counts: tuple[int, ...]
    slope_mm_per_mm: float


def turn_of_spoke_rad(wheel: SpokeWheel) -> float:
    """Angle at the hub between a spoke's two ends: crosses × 4π/holes.

    References
    ----------
    Geometry of tangential lacing; common practice.

    Examples
    --------
    >>> round(math.degrees(turn_of_spoke_rad(SpokeWheel(holes=36, crosses=3))), 6)
    60.0
    """
    return wheel.crosses * 4 * math.pi / wheel.holes


def share_along_spoke(wheel: SpokeWheel, radius_mm: float) -> float:
    """How far along a spoke, 0 at the hub and 1 at the rim, it is `radius_mm` from the axle.

    Solves |h + t·(r − h)| = radius for the larger root t.

    Raises
    ------
    `InputError` when the radius is not between flange and rim.

    Examples
    --------
    >>> share_along_spoke(SpokeWheel(crosses=0, flange_diameter_mm=60, rim_diameter_mm=600), 165)
    0.5
    """
    hub, rim = wheel.flange_diameter_mm / 2, wheel.rim_diameter_mm / 2
    if not hub <= radius_mm <= rim:
        raise InputError(
            text_of("At a radius of {0:g} mm there is no spoke.", radius_mm),
            remedy="Measure from the axle to the middle of the magnet.",
            limit=text_of("{0:g} to {1:g} mm", hub, rim),
            value=radius_mm,
            path="target.magnets.radius_mm",
        )
    turn = turn_of_spoke_rad(wheel)
    along = rim * math.cos(turn) - hub, rim * math.sin(turn)
    a = along[0] ** 2 + along[1] ** 2
    b = 2 * hub * along[0]
    c = hub**2 - radius_mm**2
    return (-b + math.sqrt(max(b * b - 4 * a * c, 0.0))) / (2 * a)


def angle_behind_rim_rad(wheel: SpokeWheel, radius_mm: float) -> float:
    """Angle at the axle between a spoke's rim end and its place at a radius: 0 at the rim.

    Examples
    --------
    >>> round(angle_behind_rim_rad(SpokeWheel(), 300), 6)
    0.0
    """
    share, turn = share_along_spoke(wheel, radius_mm), turn_of_spoke_rad(wheel)
    hub, rim = wheel.flange_diameter_mm / 2, wheel.rim_diameter_mm / 2
    x = hub + share * (rim * math.cos(turn) - hub)
    y = share * rim * math.sin(turn)
    return turn - math.atan2(y, x)


def plane_of(wheel: SpokeWheel, number: int) -> int:
    """0 or 1: the plane in which spoke `number` (from 1) runs; radial spokes all run in one.

    Examples
    --------
    >>> [plane_of(SpokeWheel(), number) for number in (1, 2, 3)]
    [0, 1, 0]
    """
    return (number - 1) % 2 if wheel.crosses else 0


def spokes_of(wheel: SpokeWheel, radius_mm: float) -> tuple[Spoke, ...]:
    """Every spoke of one side; spoke 1 meets the rim at the top.

    Examples
    --------
    >>> len(spokes_of(SpokeWheel(holes=28), 100))
    14
    """
    turn, behind = turn_of_spoke_rad(wheel), angle_behind_rim_rad(wheel, radius_mm)
    hub, rim = wheel.flange_diameter_mm / 2, wheel.rim_diameter_mm / 2
    share = share_along_spoke(wheel, radius_mm)
    apart = (wheel.flange_thickness_mm + SPOKE_MM) / 2

    def point(radius: float, clockwise: float) -> tuple[float, float]:
        return radius * math.sin(clockwise), radius * math.cos(clockwise)

    found = []
    for number in range(1, wheel.holes // 2 + 1):
        at_rim = (number - 1) * 4 * math.pi / wheel.holes
        plane = plane_of(wheel, number)
        way = 1 if plane == 0 else -1
        angle = at_rim - way * behind
        axial_mm = (wheel.flange_offset_mm + (way if wheel.crosses else 0) * apart) * (1 - share)
        found.append(
            Spoke(
                number=number,
                plane=plane,
                hub=point(hub, at_rim - way * turn),
                rim=point(rim, at_rim),
                at=point(radius_mm, angle),
                angle_deg=math.degrees(angle) % 360,
                axial_mm=axial_mm,
            )
        )
    return tuple(found)


def chosen_spokes(target: Target) -> tuple[Spoke, ...]:
    """The spokes that carry the magnets, when they are chosen and as many as there are magnets; else none.

    Examples
    --------
    >>> from speedchain.target.model import Magnets
    >>> target = Target(kind="magnets", count=2, magnets=Magnets(), spokes=SpokeWheel(holes=28, chosen=(1, 8)))
    >>> [spoke.plane for spoke in chosen_spokes(target)]
    [0, 1]
    """
    wheel, magnets = target.spokes, target.magnets
    if wheel is None or magnets is None or magnets.mounted != "spokes" or len(set(wheel.chosen)) != target.count:
        return ()
    spokes = spokes_of(wheel, magnets.radius_mm)
    return tuple([spokes[number - 1] for number in sorted(wheel.chosen)])


def numbering(wheel: SpokeWheel) -> Words:
    """How the spokes are numbered, in words.

    Examples
    --------
    >>> str(numbering(SpokeWheel(holes=20, crosses=0)))
    "counted clockwise on the sensor's side"
    """
    if not wheel.crosses:
        return text_of("counted clockwise on the sensor's side")
    return text_of("counted clockwise on the sensor's side; spoke 1 runs outside of the flange")


def spacing_of_deg(spokes: tuple[Spoke, ...]) -> tuple[float, ...]:
    """Angles from each to the next around a turn [°].

    Examples
    --------
    >>> spacing_of_deg(spokes_of(SpokeWheel(holes=8, crosses=0), 100))
    (90.0, 90.0, 90.0, 90.0)
    """
    angles = sorted([spoke.angle_deg for spoke in spokes])
    return tuple([(b - a) % 360 or 360.0 for a, b in zip(angles, angles[1:] + angles[:1], strict=True)])


def plane_spread_mm(spokes: tuple[Spoke, ...]) -> float:
    """How much the gap differs between the planes in which the magnets sit [mm]; 0 for none.

    Examples
    --------
    >>> plane_spread_mm(())
    0.0
    """
    axial = [spoke.axial_mm for spoke in spokes]
    return max(axial) - min(axial) if axial else 0.0


def _candidates(per_side: int, magnets: int, starts: tuple[int, ...]) -> NDArray[np.int64]:
    """Places (from 0) of every set with a first spoke of either plane; of many magnets, those counted evenly."""
    if math.comb(per_side - 1, magnets - 1) <= MOST_LOOKED_AT:
        rest = list(itertools.combinations(range(1, per_side), magnets - 1))
    else:
        sizes = (per_side // magnets, -(-per_side // magnets))
        ways = [steps for steps in itertools.product(sizes, repeat=magnets - 1) if per_side - sum(steps) in sizes]
        rest = [tuple(itertools.accumulate(steps)) for steps in ways]
    after = np.array(rest, dtype=np.int64).reshape(len(rest), magnets - 1)
    sets = [np.column_stack([np.zeros(len(after), dtype=np.int64), after]) + start for start in starts]
    return np.concatenate(sets) % per_side


def speed_ripple_pct(spacing_deg: tuple[float, ...]) -> Interval:
    """Lowest and highest error of a reader that times single pulses: 100·((360/M)/θ − 1) over the spacings.

    References
    ----------
    Period timing; over a whole turn the errors cancel.

    Examples
    --------
    >>> [round(error, 2) for error in speed_ripple_pct((118.0, 122.0, 120.0))]
    [-1.64, 1.69]
    """
    even = 360 / len(spacing_deg)
    errors = [100 * (even / spacing - 1) for spacing in spacing_deg]
    return Interval(min(errors), max(errors))


def _set_of(wheel: SpokeWheel, spokes: tuple[Spoke, ...], numbers: tuple[int, ...], in_use: bool) -> SpokeSet:
    taken = [spokes[number - 1] for number in numbers]
    steps = tuple(
        [(b - a) % len(spokes) or len(spokes) for a, b in zip(numbers, numbers[1:] + numbers[:1], strict=True)]
    )
    spacing = spacing_of_deg(tuple(taken))
    even = 360 / len(taken)
    low, high = speed_ripple_pct(spacing)
    planes = {spoke.plane for spoke in taken}
    return SpokeSet(
        spokes=numbers,
        steps=steps,
        text=_text_of(steps, len(planes) == 1, taken[0].plane, wheel),
        spacing_deg=spacing,
        error_deg=max([abs(item - even) for item in spacing]),
        plane_offset_mm=plane_spread_mm(tuple(taken)),
        ripple_low_pct=low,
        ripple_high_pct=high,
        same_plane=len(planes) == 1,
        in_use=in_use,
    )


def _text_of(steps: tuple[int, ...], same_plane: bool, plane: int, wheel: SpokeWheel) -> str:
    """How to count at the wheel."""
    if len(steps) == 1:
        return "Any spoke of this side."
    if len(set(steps)) == 1 and same_plane and wheel.crosses:
        every = {1: "every one", 2: "every second", 3: "every third", 4: "every fourth"}.get(steps[0] // 2, "some")
        runs = text_of("outside") if plane == 0 else text_of("inside")
        return text_of(
            "This one, then count {0} on the same side: {1} of those that run {2} of the flange.", steps[0], every, runs
        )
    counts = joined(", then ", [str(step) for step in steps[:-1]])
    return text_of("This one, then count {0} on the same side; back to the first it is {1}.", counts, steps[-1])


def crossings_mm(wheel: SpokeWheel) -> tuple[float, ...]:
    """Radii at which spokes of one side cross each other, from the hub out.

    Spokes of both planes meet where each is half the angle between their rim ends behind its own; that angle is
    an odd number of places.
    """
    from scipy.optimize import brentq

    found = []
    step = 4 * math.pi / wheel.holes
    low, high = wheel.flange_diameter_mm / 2, wheel.rim_diameter_mm / 2
    for odd in range(1, 2 * wheel.crosses, 2):
        wanted = odd * step / 2
        if angle_behind_rim_rad(wheel, low) < wanted:
            continue
        found.append(float(brentq(lambda r_mm, to=wanted: angle_behind_rim_rad(wheel, r_mm) - to, low, high)))
    return tuple(sorted(found))


def windows_mm(wheel: SpokeWheel, magnet_mm: float) -> tuple[Window, ...]:
    """Radii free for a magnet of this size: clear of hub, crossings and rim. Clearances: common practice."""
    low = wheel.flange_diameter_mm / 2 + HUB_CLEARANCE_MM
    high = wheel.rim_diameter_mm / 2 - RIM_CLEARANCE_MM
    half = magnet_mm / 2 + SPOKE_MM
    edges = [low]
    for crossing in crossings_mm(wheel):
        edges += [crossing - half, crossing + half]
    edges.append(high)
    pairs = zip(edges[::2], edges[1::2], strict=True)
    return tuple(
        [Window(low_mm=max(a, low), high_mm=min(b, high)) for a, b in pairs if min(b, high) - max(a, low) >= 1.0]
    )


def even_counts(wheel: SpokeWheel) -> tuple[int, ...]:
    """Numbers of magnets that come out even in one plane: the divisors of the spokes per plane.

    Examples
    --------
    >>> [even_counts(SpokeWheel(holes=holes)) for holes in (36, 32, 28)]
    [(1, 3, 9), (1, 2, 4, 8), (1, 7)]
    """
    per_plane = wheel.holes // 4 if wheel.crosses else wheel.holes // 2
    return tuple([count for count in range(1, per_plane + 1) if per_plane % count == 0])


def plan_spokes(wheel: SpokeWheel, magnets: int, radius_mm: float, magnet_mm: float = 10.0) -> SpokePlan:
    """Every set of spokes of one side, the best first; of very many magnets only sets counted evenly.

    Order: spacing error, then offset between the planes.

    Parameters
    ----------
    The wheel, how many magnets, the radius at which they sit and their size along the spoke [mm].

    Raises
    ------
    `InputError` for a radius off the spokes or more magnets than can be distinguished.

    References
    ----------
    Plane geometry; the trade rule (three on 36, two at most on 28 or 32) is common practice.

    Examples
    --------
    >>> plan = plan_spokes(SpokeWheel(holes=36), 3, 120)
    >>> plan.sets[0].spokes, round(plan.sets[0].error_deg, 6)
    ((1, 7, 13), 0.0)
    """
    per_side = wheel.holes // 2
    most = min(MOST_MAGNETS, per_side)
    if not 1 <= magnets <= most:
        raise InputError(
            text_of("{0} magnets do not fit on {1} spokes of one side.", magnets, per_side),
            remedy="Use fewer magnets, or a ring.",
            limit=text_of("1 to {0}", most),
            value=magnets,
            path="target.count",
        )
    spokes = spokes_of(wheel, radius_mm)
    chosen = _turned(tuple(sorted(set(wheel.chosen))), per_side, wheel)
    places = _candidates(per_side, magnets, (0, 1) if wheel.crosses else (0,))
    angles = np.sort(np.array([spoke.angle_deg for spoke in spokes])[places], axis=1)
    spacing = np.diff(angles, axis=1, append=angles[:, :1] + 360)
    error = np.abs(spacing - 360 / magnets).max(axis=1).round(6)
    offset = np.ptp(np.array([spoke.plane for spoke in spokes])[places], axis=1)
    sets: dict[tuple[int, ...], SpokeSet] = {}
    for row in np.lexsort((offset, error)):
        numbers = _turned(tuple(sorted((places[row] + 1).tolist())), per_side, wheel)
        if numbers not in sets:
            sets[numbers] = _set_of(wheel, spokes, numbers, numbers == chosen)
        if len(sets) == MAX_SETS:
            break
    ordered = list(sets.values())
    if len(chosen) == magnets and chosen not in sets:
        ordered.append(_set_of(wheel, spokes, chosen, True))
    hub, rim = wheel.flange_diameter_mm / 2, wheel.rim_diameter_mm / 2
    return SpokePlan(
        magnets=magnets,
        radius_mm=radius_mm,
        rim_diameter_mm=wheel.rim_diameter_mm,
        flange_diameter_mm=wheel.flange_diameter_mm,
        magnet_mm=magnet_mm,
        per_side=per_side,
        per_plane=wheel.holes // 4 if wheel.crosses else per_side,
        spokes=spokes,
        sets=tuple(ordered),
        windows=windows_mm(wheel, magnet_mm),
        crossings_mm=crossings_mm(wheel),
        numbering=numbering(wheel),
        rule=_rule(wheel, magnets, ordered[0]),
        rule_counts=even_counts(wheel),
        slope_mm_per_mm=wheel.flange_offset_mm / (rim - hub),
    )


def _turned(numbers: tuple[int, ...], per_side: int, wheel: SpokeWheel) -> tuple[int, ...]:
    """The same set turned so that its first number is the lowest it can be: a wheel has no first spoke."""
    if not numbers:
        return ()
    turned = []
    for start in numbers:
        first = 1 + (plane_of(wheel, start))
        turned.append(tuple(sorted([(number - start) % per_side + first for number in numbers])))
    return min(turned)


def _rule(wheel: SpokeWheel, magnets: int, best: SpokeSet) -> str:
    """Why this many magnets do or do not come out even on this wheel."""
    per_side = wheel.holes // 2
    per_plane = wheel.holes // 4 if wheel.crosses else per_side
    if magnets == 1:
        return "One magnet: any spoke that passes the sensor is suitable."
    plane = text_of("{0} spokes are {1} a side and {2} in one plane", wheel.holes, per_side, per_plane)
    if not wheel.crosses:
        plane = text_of("{0} radial spokes are {1} a side, all in one plane", wheel.holes, per_side)
    if per_plane % magnets == 0:
        return text_of(
            "{0}: {1} divides {2}, so {1} are evenly spaced, all at the same gap.", plane, magnets, per_plane
        )
    counts = [str(count) for count in even_counts(wheel) if count > 1]
    even = text_of("even: {0}", joined(", ", counts)) if counts else "only one is even"
    if best.same_plane:
        rest = text_of("the best set has a spacing error of {0:.1f}°", best.error_deg)
    else:
        rest = text_of(
            "one must be in the other plane, {0:.1f} mm off, with a spacing error of {1:.1f}°",
            best.plane_offset_mm,
            best.error_deg,
        )
    worst = max(-best.ripple_low_pct, best.ripple_high_pct)
    return text_of(
        "{0}: {1} does not divide {2} ({3}); {4}. Speed ripple {5:.1f} % for a reader that times "
        "single pulses; none when averaged over a whole turn.",
        plane,
        magnets,
        per_plane,
        even,
        rest,
        worst,
    )
