"""Photos as they are kept: checked, turned upright, made smaller, without where and with what they were taken."""

from __future__ import annotations

import io
from typing import NamedTuple

from PIL import Image, ImageOps, UnidentifiedImageError

from speedchain.fields import InputError, text_of

FORMATS = ("JPEG", "PNG", "WEBP")
MOST_PIXELS = 64_000_000
LONGEST_PX = 1600
QUALITY = 82


class Kept(NamedTuple):
    """A photo as JPEG, and its size [px]."""

    content: bytes
    width: int
    height: int


def kept_photo(data: bytes) -> Kept:
    """A photo, ready to be kept.

    Raises
    ------
    `InputError` for what is no photo, is broken, or has more than 64 megapixels.
    """
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as opened:
            if opened.width * opened.height > MOST_PIXELS:
                raise InputError(
                    text_of("The photo has {0:.0f} megapixels.", opened.width * opened.height / 1e6),
                    remedy="Take it with a lower resolution.",
                    limit=text_of("at most {0:.0f} megapixels", MOST_PIXELS / 1e6),
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
    return Kept(made.getvalue(), *plain.size)
