"""What the law allows a speedometer to show, as data. Check your local rules."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from speedchain.fields import KM_PER_MILE, Interval, Words, labelled
from speedchain.results import result

BandCode = Literal["un_r39", "un_r39_cars_made", "un_r39_motorcycles_made", "us_393_82", "none"]


@result
class Band:
    """Allowed shown speed: from true − `under_kmh` to true·(1 + `share`) + `over_kmh`; at one speed only if `at_kmh`."""

    code: BandCode
    label: Words
    source: Words
    under_kmh: float
    share: float
    over_kmh: float
    at_kmh: float | None

    def allowed_kmh(self, true_kmh: float) -> Interval:
        """Least and most that may be shown at a true speed [km/h].

        Examples
        --------
        >>> BANDS["un_r39"].allowed_kmh(100)
        Interval(low=100.0, high=114.0)
        """
        return Interval(float(true_kmh - self.under_kmh), true_kmh + self.share * true_kmh + self.over_kmh)


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
        ),
        Band(
            code="un_r39_cars_made",
            label="UN R39, cars as made",
            source="UN R39, conformity of production",
            under_kmh=0,
            share=0.1,
            over_kmh=6,
            at_kmh=None,
        ),
        Band(
            code="un_r39_motorcycles_made",
            label="UN R39, motorcycles as made",
            source="UN R39, conformity of production",
            under_kmh=0,
            share=0.1,
            over_kmh=8,
            at_kmh=None,
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

SPEEDOMETER_RULES = labelled(BandCode, **{code: (band.label, band.source) for code, band in BANDS.items()}, none="None")
