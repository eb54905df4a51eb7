"""What the law allows a speedometer to show, as data. Check your local rules."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from speedchain.fields.constants import KM_PER_MILE
from speedchain.results import result

BandCode = Literal["un_r39", "un_r39_cars_made", "un_r39_motorcycles_made", "us_393_82", "none"]


@result
class Band:
    """Allowed shown speed: from true − `under_kmh` to true·(1 + `share`) + `over_kmh`; at one speed only if `at_kmh`."""

    code: BandCode
    label: str
    source: str
    under_kmh: float
    share: float
    over_kmh: float
    at_kmh: float | None

    def allowed_kmh(self, true_kmh: float) -> tuple[float, float]:
        """Least and most that may be shown at a true speed [km/h].

        >>> BANDS["un_r39"].allowed_kmh(100)
        (100.0, 114.0)
        """
        return float(true_kmh - self.under_kmh), true_kmh + self.share * true_kmh + self.over_kmh


BANDS: Mapping[str, Band] = {
    band.code: band
    for band in (
        Band("un_r39", "UN R39, type approval", "UN R39 §5.4", 0, 0.1, 4, None),
        Band(
            "un_r39_cars_made",
            "UN R39, cars as made",
            "UN R39, conformity of production",
            0,
            0.1,
            6,
            None,
        ),
        Band(
            "un_r39_motorcycles_made",
            "UN R39, motorcycles as made",
            "UN R39, conformity of production",
            0,
            0.1,
            8,
            None,
        ),
        Band(
            "us_393_82",
            "49 CFR 393.82, commercial vehicles",
            "± 5 mph at 50 mph; 49 CFR 393.82",
            5 * KM_PER_MILE,
            0.0,
            5 * KM_PER_MILE,
            50 * KM_PER_MILE,
        ),
    )
}
