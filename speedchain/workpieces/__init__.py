"""Parts to make: a ring and a sensor bracket, as DXF, SVG and 1:1 PDF."""

from speedchain.workpieces.bracket import bracket_outline
from speedchain.workpieces.outline import Outline
from speedchain.workpieces.ring import ring_outline
from speedchain.workpieces.write import MEDIA, WRITERS, Format

__all__ = ["MEDIA", "WRITERS", "Format", "Outline", "bracket_outline", "ring_outline"]
