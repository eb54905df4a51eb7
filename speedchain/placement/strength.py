"""How much of the field's modulation reaches the element: spacing × depth × aperture × capture.

All functions take scalars or NumPy arrays that broadcast; lengths in mm, angles in degrees.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Value = float | Array
TURNED_LEAST = 1e-9
"""A strip exactly along or across the travel is turned by this much, so that its corners are four."""
MAGNET_SHARE = (0.5, 1 / 3)
"""Diameter and length of the bias magnet behind a sensor's element, over the diameter of its body. Common practice."""
BEHIND_TIP_MM, BEFORE_MAGNET_MM = 0.8, 0.5
"""The element inside the tip, and before the face of its bias magnet. Common practice."""


def spacing_loss(air_gap_mm: Value, pitch_mm: Value) -> Array:
    """What is left of the modulation at a gap: exp(−2π·g/p), 54.6 dB for each pitch of gap.

    References
    ----------
    R. L. Wallace, The reproduction of magnetically recorded signals, Bell System Technical Journal 30 (1951). Value
    quoted from memory.

    Examples
    --------
    >>> round(float(-20 * np.log10(spacing_loss(6.0, 6.0))), 1)
    54.6
    """
    return np.exp(-2 * math.pi * air_gap_mm / pitch_mm)


def depth_share(depth_mm: Value, pitch_mm: Value) -> Array:
    """What teeth of limited depth give against deep ones: 1 − exp(−2π·h/p).

    The floor of the gap is h further off than the tip and takes its share away by the same spacing loss.

    References
    ----------
    Follows from the spacing loss; our approximation.

    Examples
    --------
    >>> round(float(depth_share(2.25, np.pi)), 3)
    0.989
    """
    return 1 - np.exp(-2 * math.pi * depth_mm / pitch_mm)


def image_field(air_gap_mm: Value, body_diameter_mm: float) -> Array:
    """Field that iron at a gap throws back on the element of a back-biased sensor, for a remanence of 1.

    The iron mirrors the bias magnet behind the element: on the axis of the image, z = 2·(g + tip) + before from its
    face, B = ½·((z + L)/√((z + L)² + R²) − z/√(z² + R²)).

    References
    ----------
    Field on the axis of a cylinder magnetised along it, and the method of images at iron of high permeability; checked
    against `magpylib`.

    Examples
    --------
    >>> round(1000 * float(image_field(1.0, 12.0)), 1)
    65.4
    """
    radius, length = MAGNET_SHARE[0] * body_diameter_mm / 2, MAGNET_SHARE[1] * body_diameter_mm
    z = 2 * (np.asarray(air_gap_mm) + BEHIND_TIP_MM) + BEFORE_MAGNET_MM
    return np.asarray(((z + length) / np.hypot(z + length, radius) - z / np.hypot(z, radius)) / 2)


def bias_modulation(air_gap_mm: Value, *, pitch_mm: float, depth_mm: float | None, body_diameter_mm: float) -> Array:
    """How much a back-biased sensor sees of teeth at a gap, for a remanence of 1: image field × depth × spacing loss.

    Coarse teeth: the image in the tooth less that in the floor, h further off. Fine teeth: the spacing loss takes the
    floor's share away. The depth factor is the larger of the two, 1 where the depth is not known. Never more than the
    bias magnet throws back, however coarse the teeth are.

    Examples
    --------
    >>> at = {"pitch_mm": 60.0, "depth_mm": 3.0, "body_diameter_mm": 12.0}
    >>> [round(float(bias_modulation(gap, **at) / bias_modulation(1.8, **at)), 4) for gap in (1.0, 1.8, 20.0)]
    [2.1266, 1.0, 0.0003]
    """
    near = image_field(air_gap_mm, body_diameter_mm)
    depth: Value = 1.0
    if depth_mm is not None:
        far = image_field(np.asarray(air_gap_mm) + depth_mm, body_diameter_mm)
        depth = np.maximum(depth_share(depth_mm, pitch_mm), 1 - far / near)
    return np.asarray(near * depth * spacing_loss(air_gap_mm, pitch_mm))


def tooth_share(tooth_mm: float, pitch_mm: float) -> float:
    """What teeth of a width give against teeth as wide as their gaps: sin(π·w/p), the first harmonic of the row.

    Examples
    --------
    >>> tooth_share(3.0, 6.0), round(tooth_share(1.0, 6.0), 3)
    (1.0, 0.5)
    """
    return math.sin(math.pi * min(max(tooth_mm / pitch_mm, 0.0), 1.0))


def aperture_loss(extent_mm: Value, pitch_mm: Value) -> Array:
    """What an element of some extent along the travel keeps: |sin(πs/p)/(πs/p)|; nothing when it spans a pitch.

    References
    ----------
    Wallace (1951) and the literature on the reading gap. Value quoted from memory.

    Examples
    --------
    >>> round(float(aperture_loss(3.0, 6.0)), 4), round(float(aperture_loss(6.0, 6.0)), 4)
    (0.6366, 0.0)
    """
    return np.abs(np.sinc(np.asarray(extent_mm) / pitch_mm))


def axial_capture(lateral_offset_mm: Value, extent_mm: Value, face_mm: Value) -> Array:
    """Share of the element's extent across the travel that lies over the tooth's face, 0 to 1.

    Examples
    --------
    >>> [float(axial_capture(y, 2.0, 4.0)) for y in (0.0, 2.0, 3.0)]
    [1.0, 0.5, 0.0]
    """
    half, face = np.asarray(extent_mm) / 2, np.asarray(face_mm) / 2
    over = np.minimum(lateral_offset_mm + half, face) - np.maximum(lateral_offset_mm - half, -face)
    return np.asarray(np.maximum(over, 0) / (2 * half))


def strip_strength(
    lateral_offset_mm: Value,
    clocking_angle_deg: Value,
    *,
    length_mm: float,
    width_mm: float,
    pitch_mm: float,
    face_mm: float,
) -> Array:
    """Aperture and capture of one thin strip, its long line turned by the clocking angle from the travel.

    |∬ e^{iκx} dx dy|/(L·w), κ = 2π/p, over the part of the turned rectangle that lies over the face, in closed form:
    between corners and edges of the face both ends of the chord are straight lines, x = m ± s, over which e^{iκx} has
    the mean e^{iκm}·sinc(κs/π). Wholly over the face this is |sinc(L·cos φ/p)|·|sinc(w·sin φ/p)|, the Fourier transform
    of the rectangle at the pitch.

    References
    ----------
    The aperture loss above, in two dimensions; checked against `scipy.integrate.dblquad`.

    Examples
    --------
    Turned across the row the strip always has some part over a narrow ring; along it, it is on or off:

    >>> [round(float(strip_strength(1.4, angle, length_mm=3.0, width_mm=0.5, pitch_mm=6.3, face_mm=2.0)), 2)
    ...     for angle in (0, 90)]
    [0.0, 0.36]
    """
    angle = np.radians(clocking_angle_deg)
    offset, angle = np.broadcast_arrays(np.asarray(lateral_offset_mm, dtype=float), np.asarray(angle, dtype=float))
    cos, sin = np.abs(np.cos(angle)), np.abs(np.sin(angle))
    cos, sin = np.maximum(cos, TURNED_LEAST), np.maximum(sin, TURNED_LEAST)
    reach = (length_mm * sin + width_mm * cos) / 2
    whole = np.abs(np.sinc(length_mm * cos / pitch_mm) * np.sinc(width_mm * sin / pitch_mm))
    seen = np.where(np.abs(offset) < face_mm / 2, whole, 0.0)
    partly = np.abs(np.abs(offset) - face_mm / 2) < reach
    if partly.any():
        part = _partly_over(
            offset[partly], cos[partly], sin[partly], length_mm=length_mm, width_mm=width_mm, face_mm=face_mm,
            wave=2 * math.pi / pitch_mm,
        )  # fmt: skip
        seen[partly] = part
    return seen


def _partly_over(
    offset: Array, cos: Array, sin: Array, *, length_mm: float, width_mm: float, face_mm: float, wave: float
) -> Array:
    """The same where an edge of the face cuts the strip."""
    half_length, half_width, face = length_mm / 2, width_mm / 2, face_mm / 2
    far, near = half_length * sin + half_width * cos, np.abs(half_length * sin - half_width * cos)
    corners = np.stack([-far, -near, near, far])
    y = np.clip(corners, -face - offset, face - offset)  # across the travel, from the strip's middle
    along, across = y * (sin / cos), y * (cos / sin)
    left = np.maximum(-half_length / cos - along, across - half_width / sin)
    right = np.minimum(half_length / cos - along, across + half_width / sin)
    height = y[1:] - y[:-1]
    right_even, right_odd = _edge(right, wave)
    left_even, left_odd = _edge(left, wave)
    total = np.hypot((height * (right_even - left_even)).sum(axis=0), (height * (right_odd - left_odd)).sum(axis=0))
    return np.asarray(total / (wave * length_mm * width_mm))


def _edge(x_mm: Array, wave: float) -> tuple[Array, Array]:
    """Means of cos κx and sin κx along the straight edges between points, κ = `wave`."""
    middle, half = wave * (x_mm[1:] + x_mm[:-1]) / 2, wave * (x_mm[1:] - x_mm[:-1]) / 2
    share = np.sinc(half / math.pi)
    return share * np.cos(middle), share * np.sin(middle)


def pair_strength(
    lateral_offset_mm: Value,
    clocking_angle_deg: Value,
    *,
    element_spacing_mm: float,
    element_mm: float,
    pitch_mm: float,
    face_mm: float,
) -> Array:
    """What the difference of two elements sees: |c₁·e^{iκ} − c₂·e^{−iκ}|/2 with κ = π·d·cos φ/p.

    c are the captures of the two, d their distance; with both over the face it is |sin κ|. Turned by a quarter,
    κ is 0: both see the same, and nothing is left.

    Examples
    --------
    >>> [round(float(pair_strength(0.0, angle, element_spacing_mm=2.5, element_mm=0.3, pitch_mm=5.0, face_mm=10.0)), 1)
    ...     for angle in (0, 90)]
    [1.0, 0.0]
    """
    angle = np.radians(clocking_angle_deg)
    across = np.sin(angle) * element_spacing_mm / 2
    first = axial_capture(lateral_offset_mm + across, element_mm, face_mm)
    second = axial_capture(lateral_offset_mm - across, element_mm, face_mm)
    phase = math.pi * element_spacing_mm * np.cos(angle) / pitch_mm
    seen = np.hypot((first - second) * np.cos(phase), (first + second) * np.sin(phase)) / 2
    return seen * aperture_loss(element_mm, pitch_mm)
