"""The field of a single magnet on its way past the sensor, from `magpylib`, tabled once for each shape of magnet.

Axes: x along the travel, y across it, z from the magnet's face towards the sensor; lengths in mm, fields in mT.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from speedchain.placement.strength import Array, Value
from speedchain.results import result
from speedchain.target import MagnetForm, Magnets

FURTHEST_MM = 160.0
NEAREST_MM = 0.2
PLANE_MM = 0.5
PLANE_REACH_MM = 80.0
_ACROSS, _AWAY = 26, 60


@result
class _Table:
    """B_z and the potential of a magnet of 1 T over one octant, both divided by how they fall far off."""

    scale_mm: float
    middle_mm: float
    field: NDArray[np.float64]
    potential: NDArray[np.float64]
    field_spline: NDArray[np.float64]
    potential_spline: NDArray[np.float64]


@lru_cache(maxsize=64)
def _table(form: MagnetForm, diameter_mm: float, width_mm: float, length_mm: float) -> _Table:
    """`magpylib` (M. Ortner and L. G. Coliado Bandeira, SoftwareX 2020) over a grid that is fine near the magnet."""
    import magpylib
    from scipy.integrate import cumulative_simpson
    from scipy.ndimage import spline_filter

    half = max(diameter_mm, width_mm if form == "bar" else 0.0) / 2
    across = half * np.sinh(np.linspace(0, math.asinh(FURTHEST_MM / half), _ACROSS))
    away = np.geomspace(NEAREST_MM, FURTHEST_MM, _AWAY)
    x, y, z = np.meshgrid(across, across, away, indexing="ij")
    at = np.stack([x, y, z + length_mm / 2], axis=-1) / 1000
    size = np.array([diameter_mm, width_mm, length_mm]) / 1000
    magnet: object = magpylib.magnet.Cylinder(polarization=(0, 0, 1), dimension=size[[0, 2]])
    if form == "bar":
        magnet = magpylib.magnet.Cuboid(polarization=(0, 0, 1), dimension=size)
    field = 1000 * np.asarray(magpylib.getB(magnet, at))[..., 2]
    # The potential is what is left of ∫ B_z dz from here outwards; z grows by a constant ratio, so dz = z d(ln z).
    step = math.log(away[1] / away[0])
    inward = cumulative_simpson((field * away)[..., ::-1], dx=step, axis=-1, initial=0)[..., ::-1]
    potential = inward + (field * away / 2)[..., -1:]
    middle = length_mm / 2
    far2 = x**2 + y**2 + (z + middle + half) ** 2
    smooth = [np.ascontiguousarray(values) for values in (field * far2**1.5, potential * far2)]
    field_spline, potential_spline = (spline_filter(values, mode="mirror") for values in smooth)
    return _Table(
        scale_mm=half,
        middle_mm=middle,
        field=smooth[0],
        potential=smooth[1],
        field_spline=field_spline,
        potential_spline=potential_spline,
    )


def _look_up(
    magnets: Magnets, values: str, *, x_mm: Value, y_mm: Value, z_mm: Value, exact: bool
) -> tuple[Array, Array]:
    """Value and squared distance at points; by cubic splines, or linearly where many points are asked for."""
    from scipy.ndimage import map_coordinates

    table = _table(magnets.form, magnets.diameter_mm, magnets.width_mm, magnets.length_mm)
    half = table.scale_mm
    x, y, z = np.broadcast_arrays(np.abs(x_mm), np.abs(y_mm), np.maximum(z_mm, NEAREST_MM))
    widest = math.asinh(FURTHEST_MM / half)
    place = np.stack(
        [
            np.arcsinh(x / half) / widest * (_ACROSS - 1),
            np.arcsinh(y / half) / widest * (_ACROSS - 1),
            np.log(z / NEAREST_MM) / math.log(FURTHEST_MM / NEAREST_MM) * (_AWAY - 1),
        ]
    ).reshape(3, -1)
    if exact:
        found = map_coordinates(getattr(table, f"{values}_spline"), place, order=3, mode="mirror", prefilter=False)
    else:
        found = map_coordinates(getattr(table, values), place, order=1, mode="nearest")
    far2 = x**2 + y**2 + (z + table.middle_mm + half) ** 2
    return found.reshape(x.shape) * magnets.remanence_mt / 1000, far2


def field_mt(magnets: Magnets, x_mm: Value, y_mm: Value, z_mm: Value, *, exact: bool = True) -> Array:
    """B_z of the magnet at points [mm], broadcast [mT].

    Examples
    --------
    >>> magnet = Magnets(diameter_mm=8, length_mm=6, remanence_mt=380)
    >>> round(float(field_mt(magnet, 0, 0, 4.0)))
    42
    """
    found, far2 = _look_up(magnets, "field", x_mm=x_mm, y_mm=y_mm, z_mm=z_mm, exact=exact)
    return found / far2**1.5


def along_blade_mt(
    magnets: Magnets,
    x_mm: Value,
    y_mm: Value,
    z_mm: Value,
    *,
    clocking_angle_deg: Value,
    blade_mm: float,
    exact: bool = True,
) -> Array:
    """Mean field along a reed's blade: the potential at one end less that at the other, over its length [mT].

    With the blade's middle over the magnet the two ends cancel: a reed closes when an *end* passes the magnet.
    Not `exact`, and all at one height, it is read off a plane of the table, within a hundredth or so.

    Examples
    --------
    >>> magnet = Magnets(diameter_mm=8, length_mm=6, remanence_mt=380)
    >>> [round(float(along_blade_mt(magnet, 0, y, 6.0, clocking_angle_deg=90, blade_mm=14.0)), 1) for y in (0, 7)]
    [0.0, 6.3]
    """
    angle = np.radians(clocking_angle_deg)
    x, y = np.cos(angle) * blade_mm / 2, np.sin(angle) * blade_mm / 2
    if not exact and np.ndim(z_mm) == 0:
        plane = _plane(
            magnets.form,
            diameter_mm=magnets.diameter_mm,
            width_mm=magnets.width_mm,
            length_mm=magnets.length_mm,
            z_mm=round(float(z_mm), 3),
        )
        ends = _on_plane(plane, x_mm - x, y_mm - y) - _on_plane(plane, x_mm + x, y_mm + y)
        return ends * magnets.remanence_mt / 1000 / blade_mm
    first, near2 = _look_up(magnets, "potential", x_mm=x_mm - x, y_mm=y_mm - y, z_mm=z_mm, exact=exact)
    second, far2 = _look_up(magnets, "potential", x_mm=x_mm + x, y_mm=y_mm + y, z_mm=z_mm, exact=exact)
    return (first / near2 - second / far2) / blade_mm


@lru_cache(maxsize=64)
def _plane(form: MagnetForm, *, diameter_mm: float, width_mm: float, length_mm: float, z_mm: float) -> Array:
    """The potential at one height of a magnet of 1 T, on an even grid of PLANE_MM: linear between the table's
    points."""
    table = _table(form, diameter_mm, width_mm, length_mm)
    half = table.scale_mm
    across = half * np.sinh(np.linspace(0, math.asinh(FURTHEST_MM / half), _ACROSS))
    z = min(max(z_mm, NEAREST_MM), FURTHEST_MM)
    place = math.log(z / NEAREST_MM) / math.log(FURTHEST_MM / NEAREST_MM) * (_AWAY - 1)
    below = min(int(place), _AWAY - 2)
    slab = table.potential[..., below] * (1 - place + below) + table.potential[..., below + 1] * (place - below)
    at = np.arange(0, PLANE_REACH_MM + PLANE_MM, PLANE_MM)
    weights = np.array([np.interp(at, across, unit) for unit in np.eye(_ACROSS)]).T
    far2 = at[:, None] ** 2 + at[None, :] ** 2 + (z + table.middle_mm + half) ** 2
    return np.asarray(weights @ slab @ weights.T / far2)


def _on_plane(plane: Array, x_mm: Value, y_mm: Value) -> Array:
    from scipy.ndimage import map_coordinates

    x, y = np.broadcast_arrays(np.abs(x_mm), np.abs(y_mm))
    place = np.stack([x, y]).reshape(2, -1) / PLANE_MM
    return np.asarray(map_coordinates(plane, place, order=1, mode="nearest").reshape(x.shape))


def warm() -> None:
    """Load what the first field needs, so that nobody has to wait for it (magpylib takes a second or more)."""
    field_mt(Magnets(), 0.0, 0.0, 1.0)
