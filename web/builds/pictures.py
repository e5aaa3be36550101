"""Pictures of people: decoded, bounded and encoded again, so that nothing but the picture is kept."""

from __future__ import annotations

import io
from dataclasses import dataclass

from sundial.errors import BriefError

LARGEST = 6_000_000  # bytes that are taken
MOST_PIXELS = 60_000_000  # of what is decoded: a bomb of a few kB would be billions
WIDEST = 2400  # px of what is kept
KINDS = {"PNG": "image/png", "JPEG": "image/jpeg"}
TOO_MANY = f"That picture has far too many points: {MOST_PIXELS // 1_000_000} million are the most."
NO_PICTURE = "Choose a PNG or JPEG picture."


@dataclass(frozen=True)
class Settled:
    """A picture drawn anew: its kind, width and height in px, and bytes."""

    kind: str
    width: int
    height: int
    data: bytes


def settled(data: bytes) -> Settled:
    """A PNG or JPEG picture decoded, turned upright, bounded and encoded again, without what was written beside it.

    BriefError where it is none, or is far too large.
    """
    from PIL import Image, ImageFile, ImageOps

    ImageFile.LOAD_TRUNCATED_IMAGES = False  # the maker of PDFs, once loaded in this process, lets half pictures pass
    try:
        with Image.open(io.BytesIO(data), formats=list(KINDS)) as opened:
            if opened.width * opened.height > MOST_PIXELS:
                raise BriefError("picture", TOO_MANY)
            name = str(opened.format)
            if name == "JPEG":
                opened.draft("RGB", (WIDEST, WIDEST))
            upright = ImageOps.exif_transpose(opened)
            upright.thumbnail((WIDEST, WIDEST))
            made = upright.convert("RGBA" if name == "PNG" and "A" in upright.mode else "RGB")
            out = io.BytesIO()
            clean = Image.new(made.mode, made.size)
            clean.paste(made)
            clean.save(out, format=name, quality=85, optimize=True)
    except BriefError:
        raise
    except Image.DecompressionBombError:
        raise BriefError("picture", TOO_MANY) from None
    except (OSError, ValueError, SyntaxError, EOFError):
        raise BriefError("picture", NO_PICTURE) from None
    return Settled(KINDS[name], clean.width, clean.height, out.getvalue())
