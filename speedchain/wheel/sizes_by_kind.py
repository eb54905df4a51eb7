"""Common sizes by kind of wheel, for those who do not know the notation. Common practice."""

from __future__ import annotations

from speedchain.fields import Words
from speedchain.results import result
from speedchain.wheel.marking import parse_marking


@result
class CommonSize:
    """A marking, what it says, and the diameter it comes to [mm]."""

    text: str
    understood: Words
    diameter_mm: float


@result
class SizeGroup:
    """Sizes usual on one kind of wheel, and where the marking is found."""

    label: Words
    look: Words
    sizes: tuple[CommonSize, ...]


_GROUPS: tuple[tuple[str, str, tuple[str, ...]], ...] = (
    (
        "Car",
        "On the sidewall, like 205/55R16: width / height in percent, R, rim in inches.",
        (
            "155R13",
            "165/70R14",
            "185/65R15",
            "195/45R14",
            "195/65R15",
            "205/55R16",
            "225/45R17",
            "225/40R18",
            "255/35R19",
        ),
    ),
    (
        "Off-road, inch sizes",
        "Diameter x width R rim, all in inches.",
        ("27x8.50R14", "30x9.50R15", "31x10.50R15", "33x12.50R15", "35x12.50R17"),
    ),
    (
        "Racing slick",
        "Diameter x width - rim, in inches; measure it, slicks grow with speed.",
        ("20.0x7.0-13", "22.5x8.0-15", "28.0x10.5-15", "29.5x10.5-15"),
    ),
    (
        "Motorcycle",
        "Like 120/70ZR17; front and rear differ.",
        ("110/80-19", "120/70ZR17", "130/90-16", "150/70R17", "180/55ZR17", "190/55ZR17", "200/55-17"),
    ),
    ("Old motorcycle", "Width - rim in inches, like 3.00-18.", ("2.75-18", "3.00-18", "3.25-19", "3.50-18", "4.00-18")),
    (
        "Scooter",
        "Like 120/70-12, or old inch sizes.",
        ("3.50-10", "90/90-10", "100/80-10", "110/70-12", "120/70-12", "130/70-13"),
    ),
    ("Quad or ATV", "Diameter x width - rim, in inches.", ("21x7-10", "22x10-10", "25x8-12", "25x10-12", "26x9-12")),
    ("Kart", "Diameter x width - rim, in inches.", ("10x4.50-5", "11x5.00-5", "11x6.00-5", "11x7.10-5")),
    (
        "Bicycle, large",
        "The ETRTO number, like 28-622, is the one to trust; it is moulded beside the other.",
        ("700x23C", "700x25C", "700x28C", "700x32C", "700x35C", "42-622", "47-622", "29x2.2", "27x1 1/4"),
    ),
    (
        "Bicycle, 26 and 27.5",
        "Decimal or fraction matters: 26x2.1 is a 559 rim, 26x1 3/8 a 590 rim.",
        ("26x1.75", "26x2.1", "26x1 3/8", "650B x 47", "27.5x2.3"),
    ),
    (
        "Small wheels: velomobile, folding, trike",
        "Decimal or fraction matters: 20x1.75 is a 406 rim, 20x1 1/8 a 451 rim.",
        ("12x1.75", "16x1.75", "28-349", "40-406", "20x1.75", "20x1 1/8", "20x1 3/8", "24x1.75"),
    ),
)


def common_sizes() -> tuple[SizeGroup, ...]:
    """All groups with what each size comes to.

    Examples
    --------
    >>> [group.label for group in common_sizes()][:2]
    ['Car', 'Off-road, inch sizes']
    """
    found = []
    for label, look, texts in _GROUPS:
        read = [(text, parse_marking(text)) for text in texts]
        sizes = tuple(
            [
                CommonSize(text=text, understood=marking.understood, diameter_mm=marking.diameter_mm)
                for text, marking in read
            ]
        )
        found.append(SizeGroup(label=label, look=look, sizes=sizes))
    return tuple(found)
