"""A flat part to be cut: closed contours of lines and arcs, circles and marks, in mm, y up."""

from __future__ import annotations

import math
from dataclasses import dataclass

Vertex = tuple[float, float, float]
"""x, y and the bulge of the edge that starts here: the tangent of a quarter of its arc, positive to the left."""


@dataclass(frozen=True, slots=True)
class Circle:
    """A round hole, or a round outside."""

    x: float
    y: float
    radius: float


@dataclass(frozen=True, slots=True)
class Outline:
    """What is cut (contours and circles) and what is only marked (lines and texts)."""

    title: str
    facts: tuple[str, ...]
    contours: tuple[tuple[Vertex, ...], ...]
    circles: tuple[Circle, ...]
    marks: tuple[tuple[float, float, float, float], ...] = ()
    labels: tuple[tuple[float, float, str], ...] = ()

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, bottom, right and top of everything that is cut; arcs as if they were full circles."""
        left, bottom, right, top = [], [], [], []
        for circle in self.circles:
            left.append(circle.x - circle.radius)
            right.append(circle.x + circle.radius)
            bottom.append(circle.y - circle.radius)
            top.append(circle.y + circle.radius)
        for contour in self.contours:
            for one, other in edges(contour):
                reach = 0.0
                if one[2]:
                    reach = abs(one[2]) * math.dist(one[:2], other[:2]) / 2
                left.append(min(one[0], other[0]) - reach)
                right.append(max(one[0], other[0]) + reach)
                bottom.append(min(one[1], other[1]) - reach)
                top.append(max(one[1], other[1]) + reach)
        return min(left), min(bottom), max(right), max(top)


def edges(contour: tuple[Vertex, ...]) -> list[tuple[Vertex, Vertex]]:
    """Each vertex with the next one, round to the first."""
    return list(zip(contour, contour[1:] + contour[:1], strict=True))


def bulge(angle_rad: float) -> float:
    """tan(angle/4): how DXF writes an arc of this angle between two vertices.

    Examples
    --------
    >>> round(bulge(math.pi), 6)
    1.0
    """
    return math.tan(angle_rad / 4)


def arc_of(one: Vertex, other: Vertex) -> tuple[float, float, float, float, float]:
    """Centre, radius, start angle and sweep [°, counter-clockwise] of the arc between two vertices.

    Examples
    --------
    >>> [abs(round(number, 6)) for number in arc_of((1, 0, 1.0), (-1, 0, 0))]
    [0.0, 0.0, 1.0, 0.0, 180.0]
    """
    sweep = 4 * math.atan(one[2])
    chord = math.dist(one[:2], other[:2])
    radius = chord / (2 * math.sin(abs(sweep) / 2))
    middle = (one[0] + other[0]) / 2, (one[1] + other[1]) / 2
    along = (other[0] - one[0]) / chord, (other[1] - one[1]) / chord
    height = radius * math.cos(sweep / 2) * (1 if sweep > 0 else -1)
    x, y = middle[0] - along[1] * height, middle[1] + along[0] * height
    start = math.degrees(math.atan2(one[1] - y, one[0] - x))
    return x, y, radius, start, math.degrees(sweep)
