"""A flat part to be cut: closed contours of lines and arcs, circles and marks, in mm, y up."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import NamedTuple

Vertex = tuple[float, float, float]
"""x, y and the bulge of the edge that starts here: the tangent of a quarter of its arc, positive to the left."""


class Box(NamedTuple):
    """The rectangle around a part [mm]."""

    left: float
    bottom: float
    right: float
    top: float


class Arc(NamedTuple):
    """An arc: centre and radius [mm], start angle and sweep [°, counter-clockwise]."""

    x: float
    y: float
    radius: float
    start_deg: float
    sweep_deg: float


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
    def box(self) -> Box:
        """Left, bottom, right and top of everything that is cut; arcs as if they were full circles."""
        left, bottom, right, top = [], [], [], []
        for circle in self.circles:
            left.append(circle.x - circle.radius)
            right.append(circle.x + circle.radius)
            bottom.append(circle.y - circle.radius)
            top.append(circle.y + circle.radius)
        for contour in self.contours:
            for start, end in edges(contour):
                reach = 0.0
                if start[2]:
                    reach = abs(start[2]) * math.dist(start[:2], end[:2]) / 2
                left.append(min(start[0], end[0]) - reach)
                right.append(max(start[0], end[0]) + reach)
                bottom.append(min(start[1], end[1]) - reach)
                top.append(max(start[1], end[1]) + reach)
        return Box(min(left), min(bottom), max(right), max(top))


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


def arc_of(start: Vertex, end: Vertex) -> Arc:
    """The arc between two vertices.

    Examples
    --------
    >>> arc = arc_of((1, 0, 1.0), (-1, 0, 0))
    >>> arc.radius, round(arc.start_deg, 6), arc.sweep_deg
    (1.0, 0.0, 180.0)
    """
    sweep = 4 * math.atan(start[2])
    chord = math.dist(start[:2], end[:2])
    radius = chord / (2 * math.sin(abs(sweep) / 2))
    middle = (start[0] + end[0]) / 2, (start[1] + end[1]) / 2
    along = (end[0] - start[0]) / chord, (end[1] - start[1]) / chord
    height = radius * math.cos(sweep / 2) * (1 if sweep > 0 else -1)
    x, y = middle[0] - along[1] * height, middle[1] + along[0] * height
    start_deg = math.degrees(math.atan2(start[1] - y, start[0] - x))
    return Arc(x, y, radius, start_deg, math.degrees(sweep))
