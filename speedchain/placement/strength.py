"""How much of the field's modulation reaches the element: spacing × depth × aperture × capture.

All functions take scalars or NumPy arrays that broadcast; lengths in mm, angles in degrees.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Value = float | Array


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
    return np.exp(-2 * math.pi * np.asarray(air_gap_mm) / pitch_mm)


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
    return 1 - np.exp(-2 * math.pi * np.asarray(depth_mm) / pitch_mm)


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
    """Aperture × capture of one thin strip, its long line turned by the clocking angle from the travel.

    |sinc(L·cos φ/p)|·|sinc(w·sin φ/p)| × capture(y, L·|sin φ| + w·|cos φ|). The first two factors are the
    Fourier transform of the turned rectangle at the pitch.

    Turned across the row the strip always has some part over a narrow ring; along it, it is on or off:

    Examples
    --------
    >>> [round(float(strip_strength(1.4, angle, length_mm=3.0, width_mm=0.5, pitch_mm=6.3, face_mm=2.0)), 2) for angle in (0, 90)]
    [0.0, 0.36]
    """
    angle = np.radians(clocking_angle_deg)
    along, across = np.abs(np.cos(angle)), np.abs(np.sin(angle))
    aperture = aperture_loss(length_mm * along, pitch_mm) * aperture_loss(width_mm * across, pitch_mm)
    return aperture * axial_capture(lateral_offset_mm, length_mm * across + width_mm * along, face_mm)


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
    >>> [round(float(pair_strength(0.0, angle, element_spacing_mm=2.5, element_mm=0.3, pitch_mm=5.0, face_mm=10.0)), 1) for angle in (0, 90)]
    [1.0, 0.0]
    """
    angle = np.radians(clocking_angle_deg)
    across = np.sin(angle) * element_spacing_mm / 2
    first = axial_capture(lateral_offset_mm + across, element_mm, face_mm)
    second = axial_capture(lateral_offset_mm - across, element_mm, face_mm)
    phase = math.pi * element_spacing_mm * np.cos(angle) / pitch_mm
    seen = np.hypot((first - second) * np.cos(phase), (first + second) * np.sin(phase)) / 2
    return seen * aperture_loss(element_mm, pitch_mm)


def allowed_gap_mm(strength_without_gap: Value, required: float, pitch_mm: Value) -> Array:
    """Largest gap at which the required strength is left: p/(2π)·ln(strength/required); below 0: none.

    Examples
    --------
    >>> round(float(allowed_gap_mm(1.0, float(spacing_loss(1.5, 6.0)), 6.0)), 6)
    1.5
    """
    with np.errstate(divide="ignore"):
        return np.asarray(pitch_mm) / (2 * math.pi) * np.log(np.asarray(strength_without_gap) / required)
