"""The target: what passes the sensor, how many of it, and its geometry."""

from speedchain.target.evaluate import TargetResult, evaluate_target
from speedchain.target.model import (
    COUNT_BASES,
    CUT_FORMS,
    EXPANSION_PER_K,
    FERROMAGNETIC,
    FERROUS,
    MAGNET_FORMS,
    MATERIALS,
    MOUNTINGS,
    POLES,
    RING_FORMS,
    RING_TARGETS,
    SINGLE_MAGNETS,
    TARGET_KINDS,
    MagnetForm,
    Magnets,
    RingCut,
    Target,
    TargetKind,
)
from speedchain.target.ring import RingShape, ring_shape
from speedchain.target.spokes import chosen_spokes, numbering, plane_spread_mm

__all__ = [
    "COUNT_BASES",
    "CUT_FORMS",
    "EXPANSION_PER_K",
    "FERROMAGNETIC",
    "FERROUS",
    "MAGNET_FORMS",
    "MATERIALS",
    "MOUNTINGS",
    "POLES",
    "RING_FORMS",
    "RING_TARGETS",
    "SINGLE_MAGNETS",
    "TARGET_KINDS",
    "MagnetForm",
    "Magnets",
    "RingCut",
    "RingShape",
    "Target",
    "TargetKind",
    "TargetResult",
    "chosen_spokes",
    "evaluate_target",
    "numbering",
    "plane_spread_mm",
    "ring_shape",
]
