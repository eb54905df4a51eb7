"""Photos as they are kept: checked, turned upright, made smaller, without where and with what they were taken."""

from __future__ import annotations

import io
import threading
from collections.abc import Iterator
from typing import NamedTuple

from PIL import Image, ImageOps, UnidentifiedImageError

from speedchain.fields import InputError, text_of
from workshop.apart import Limits, one_apart

FORMATS = ("JPEG", "PNG", "WEBP")
MOST_PIXELS = {"JPEG": 64_000_000, "PNG": 25_000_000, "WEBP": 25_000_000}
"""A JPEG is decoded at a fraction of its size, the others whole."""
LIMITS = Limits(seconds=10, megabytes=200)
AT_ONCE = threading.BoundedSemaphore(2)
LONGEST_PX = 1600
QUALITY = 82


class Kept(NamedTuple):
    """A photo as JPEG, and its size [px]."""

    content: bytes
    width: int
    height: int


def kept_photo(data: bytes) -> Kept:
    """A photo, ready to be kept, made so in a process apart.

    Raises
    ------
    `InputError` for what is no photo, is broken, has too many pixels, or needs more than 10 s or 200 MB.
    """
    with AT_ONCE:
        made = one_apart(
            "workshop.photos:converted", data, limits=LIMITS, path="photo", remedy="Take it with a lower resolution."
        )
    return Kept(*made)


def converted(data: bytes) -> Iterator[tuple[bytes, int, int]]:
    """The photo as JPEG, and its size [px]."""
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as opened:
            most = MOST_PIXELS[str(opened.format)]
            if opened.width * opened.height > most:
                raise InputError(
                    text_of("The photo has {0:.0f} megapixels.", opened.width * opened.height / 1e6),
                    remedy="Take it with a lower resolution.",
                    limit=text_of("at most {0:.0f} megapixels as {1}", most / 1e6, opened.format),
                    path="photo",
                )
            opened.draft("RGB", (LONGEST_PX, LONGEST_PX))  # a large JPEG is decoded at a fraction of its size
            upright = ImageOps.exif_transpose(opened)
            upright.thumbnail((LONGEST_PX, LONGEST_PX))
            plain = Image.new("RGB", upright.size, "white")
            plain.paste(upright, mask=upright.getchannel("A") if "A" in upright.getbands() else None)
    except InputError:
        raise
    except (UnidentifiedImageError, Image.DecompressionBombError, OSError, SyntaxError, ValueError, EOFError) as error:
        raise InputError(
            "This file is not a readable photo.", remedy="Send a JPEG, PNG or WebP photo again.", path="photo"
        ) from error
    made = io.BytesIO()
    plain.save(made, "JPEG", quality=QUALITY, optimize=True)
    yield made.getvalue(), *plain.size
