"""Size markings: what is moulded on the sidewall → diameter, with what was understood."""

from __future__ import annotations

from functools import lru_cache

from speedchain.fields import InputError, text_of
from speedchain.wheel.cycle_sizes import CYCLE_FORMS
from speedchain.wheel.motor_sizes import MOTOR_FORMS
from speedchain.wheel.size import Marking

MAX_MARKING = 40

ACCEPTED = (
    "205/55R16, 190/55ZR17, 120/70-17, 155R13 (metric); 31x10.50R15, 25x8-12 (inch, diameter first); "
    "3.00-18, MT90B16 (motorcycle); 4.80/4.00-8, 11R22.5, 12.4-24 (trailer, truck, tractor); 28-622 (ETRTO); "
    "700x28C, 650B x 47 (French); 26x2.1, 26x1 3/8 (inch cycle); 200x50, 8 1/2x2 (small scooter); 29.5in, 200 mm "
    "(diameter alone)"
)


@lru_cache(maxsize=4096)
def parse_marking(text: str) -> Marking:
    """Read a size marking.

    Metric ``W/A R r``: D = 25.4·r + 2·W·A/100 (82 % where no aspect is written); inch diameter first: D = 25.4·d;
    old motorcycle ``W - r``: D = 25.4·(r + 2·W); ETRTO ``W-B``, French and inch cycle sizes: D = B + 2·W
    (a cycle tyre is about as high as it is wide). A decimal and a fraction after the same inch size are different rims.

    Parameters
    ----------
    `text`, the marking (at most 40 characters).

    Returns
    -------
    A `Marking` [mm].

    Raises
    ------
    `InputError` showing the accepted forms.

    References
    ----------
    Metric form, UN Regulation 30 (D = d + 2H); ISO 5775-1 for ETRTO; common practice.

    Examples
    --------
    >>> m = parse_marking("205/55R16 91V")
    >>> round(m.diameter_mm, 1), m.radial
    (631.9, True)
    >>> parse_marking("28-622").diameter_mm
    678.0
    >>> parse_marking("26x2.1").rim_mm, parse_marking("26x1 3/8").rim_mm
    (559.0, 590.0)
    >>> round(parse_marking("29.5x10.5-15").diameter_mm, 1)
    749.3
    """
    if len(text) > MAX_MARKING:
        raise _unread(text, text_of("This marking has {0} characters; the limit is {1}.", len(text), MAX_MARKING))
    tidy = " ".join(text.upper().replace("×", "X").replace("*", "X").replace(",", ".").split())
    if not tidy:
        raise _unread(text, "The size marking is empty.", missing=True)
    for pattern, read in (*MOTOR_FORMS, *CYCLE_FORMS):
        if match := pattern.fullmatch(tidy):
            return read(tidy.replace("X", "x"), match)
    raise _unread(text, text_of("“{0}” is not a size marking that can be read.", tidy))


def _unread(text: str, message: str, *, missing: bool = False) -> InputError:
    return InputError(
        message, remedy=text_of("Write it as {0}.", ACCEPTED), limit=ACCEPTED, value=text, missing=missing
    )
