"""What the law asks of a speedometer: to whom it applies, where it is tested, what may be shown. Check your local
rules.

Everything that judges or rounds what a display shows asks here: the setting, findings, over speed, readers that cannot
be set.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from speedchain.fields import (
    EXACT_PCT,
    KM_PER_MILE,
    ON_THE_ROAD,
    ROAD_PURPOSES,
    Interval,
    Purpose,
    VehicleKind,
    Words,
    labelled,
    text_of,
)
from speedchain.results import result

BandCode = Literal["un_r39", "un_r39_cars_made", "un_r39_motorcycles_made", "us_393_82", "none"]
Rounding = Literal["up", "down", "nearest"]
Side = Literal["under", "inside", "over"]


@result
class Band:
    """Allowed shown speed: from true − `under_kmh` to true·(1 + `share`) + `over_kmh`; at one speed only if `at_kmh`,
    else at every speed, of which `tested_kmh` are those of the rule's own test."""

    code: BandCode
    label: Words
    source: Words
    under_kmh: float
    share: float
    over_kmh: float
    at_kmh: float | None
    tested_kmh: tuple[float, ...] = ()

    @property
    def never_under(self) -> bool:
        """Whether less than the true speed must never be shown."""
        return self.under_kmh == 0

    def allowed_kmh(self, true_kmh: float) -> Interval:
        """Least and most that may be shown at a true speed [km/h].

        Examples
        --------
        >>> BANDS["un_r39"].allowed_kmh(100)
        Interval(low=100.0, high=114.0)
        """
        return Interval(float(true_kmh - self.under_kmh), true_kmh + self.share * true_kmh + self.over_kmh)

    def side(self, true_kmh: float, shown_kmh: float) -> Side:
        """On which side of what is allowed a shown speed is.

        Examples
        --------
        >>> [BANDS["un_r39"].side(100, shown) for shown in (99.99, 99.999, 114.0, 114.1)]
        ['under', 'inside', 'inside', 'over']
        """
        low_kmh, high_kmh = self.allowed_kmh(true_kmh)
        slack_kmh = true_kmh * EXACT_PCT / 100
        return "under" if shown_kmh < low_kmh - slack_kmh else "over" if shown_kmh > high_kmh + slack_kmh else "inside"

    def looked_at_kmh(self, check_kmh: float, end_kmh: float) -> tuple[float, ...]:
        """The speeds at which it is looked at, the check speed first: the rule's own test speeds and the fastest
        [km/h].

        Examples
        --------
        >>> BANDS["un_r39"].looked_at_kmh(100, 110), BANDS["us_393_82"].looked_at_kmh(100, 110)
        ((100, 40.0, 80.0, 110), (80.4672,))
        """
        if self.at_kmh is not None:
            return (self.at_kmh,)
        return (check_kmh, *[v for v in (*self.tested_kmh, end_kmh) if v <= end_kmh and v != check_kmh])


R39_TESTED_KMH = (40.0, 80.0, 120.0)
"""UN R39 §5.3; values from memory."""
BANDS: Mapping[str, Band] = {
    band.code: band
    for band in (
        Band(
            code="un_r39",
            label="UN R39, type approval",
            source="UN R39 §5.4",
            under_kmh=0,
            share=0.1,
            over_kmh=4,
            at_kmh=None,
            tested_kmh=R39_TESTED_KMH,
        ),
        Band(
            code="un_r39_cars_made",
            label="UN R39, cars as made",
            source="UN R39 Annex 3 §1.3, categories M and N",
            under_kmh=0,
            share=0.1,
            over_kmh=6,
            at_kmh=None,
            tested_kmh=R39_TESTED_KMH,
        ),
        Band(
            code="un_r39_motorcycles_made",
            label="UN R39, motorcycles as made",
            source="UN R39 Annex 3 §1.3, categories L3 to L5",
            under_kmh=0,
            share=0.1,
            over_kmh=8,
            at_kmh=None,
            tested_kmh=R39_TESTED_KMH,
        ),
        Band(
            code="us_393_82",
            label="49 CFR 393.82, commercial vehicles",
            source="± 5 mph at 50 mph; 49 CFR 393.82",
            under_kmh=5 * KM_PER_MILE,
            share=0.0,
            over_kmh=5 * KM_PER_MILE,
            at_kmh=50 * KM_PER_MILE,
        ),
    )
}
"""Values and paragraphs from memory."""

SPEEDOMETER_RULES = labelled(BandCode, **{code: (band.label, band.source) for code, band in BANDS.items()}, none="None")


def is_usual(vehicle_kind: VehicleKind, purpose: Purpose) -> bool:
    """Whether a rule for speedometers is usual: a display that is read on the road. Common practice.

    Examples
    --------
    >>> is_usual("car", "true_speed"), is_usual("boat", "true_speed")
    (True, False)
    """
    return vehicle_kind in ON_THE_ROAD and purpose in ROAD_PURPOSES


def rule_for(chosen: BandCode, vehicle_kind: VehicleKind, purpose: Purpose) -> Band | None:
    """The rule that applies to a display, if one is chosen and one is usual there.

    Examples
    --------
    >>> rule_for("un_r39", "kart", "true_speed") is None
    True
    """
    return BANDS.get(chosen) if is_usual(vehicle_kind, purpose) else None


def rule_text(rule: Band | None, vehicle_kind: VehicleKind, purpose: Purpose) -> str:
    """Which rule is usual here, and whether one is applied."""
    if not is_usual(vehicle_kind, purpose):
        return "No rule for speedometers is usual for this vehicle and purpose: none is applied."
    usual = "UN R39 is usual for this vehicle; in the US 49 CFR 393.82 for commercial vehicles."
    return usual if rule is not None else text_of("{0} None is chosen: none is applied.", usual)


def rounding_under(rule: Band | None, *, direct: bool) -> Rounding:
    """Which way to round a setting: towards over-reading where a rule forbids to under-read, else to the nearest.

    `direct`: the number grows with the pulses per km that are set, so that a larger one shows less.

    Examples
    --------
    >>> [rounding_under(BANDS["un_r39"], direct=direct) for direct in (True, False)], rounding_under(None, direct=True)
    (['down', 'up'], 'nearest')
    """
    if rule is None or not rule.never_under:
        return "nearest"
    return "down" if direct else "up"


def forbids(rule: Band | None, error_pct: float) -> bool:
    """Whether a rule forbids a display to be off by so much: it would show less than the true speed.

    Examples
    --------
    >>> forbids(BANDS["un_r39"], -0.2), forbids(BANDS["un_r39"], 3.0), forbids(None, -3.0)
    (True, False, False)
    """
    return rule is not None and rule.never_under and error_pct < -EXACT_PCT
