"""Pictures that come from outside: read with suspicion, stored as our own."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass

from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

from .refusal import Refusal

#: What is taken; anything else is named in the refusal.
FORMATS = ("PNG", "JPEG", "WEBP")
#: The most pixels that are unpacked, and the longest side that is kept.
MOST_PIXELS = 25_000_000
LONGEST_PX = 4096
THUMB_PX = 480
PAPER = (253, 251, 246)


@dataclass(frozen=True)
class Stored:
    """A picture as we keep it: upright, without metadata, no larger than needed."""

    data: bytes
    thumb: bytes
    suffix: str
    width_px: int
    height_px: int


def read(data: bytes) -> Stored:
    """Take in a file. Raises `Refusal` with a sentence for whatever is not a still PNG,
    JPEG or WebP picture of reasonable size.

    Only pixels are kept: whatever else the file holds (places, scripts, thumbnails) is dropped.
    """
    if not data:
        raise Refusal("The file is empty.")
    # The printing library makes this lenient for the whole process; what is cut off must not pass.
    ImageFile.LOAD_TRUNCATED_IMAGES = False
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            picture = _opened(data)
            picture.load()
            upright = ImageOps.exif_transpose(picture)
    except Refusal:
        raise
    except (Image.DecompressionBombWarning, Image.DecompressionBombError):
        raise _too_large() from None
    except UnidentifiedImageError:
        raise Refusal(_what_it_is(data)) from None
    except (OSError, SyntaxError, ValueError, EOFError, MemoryError):
        raise Refusal(
            "The picture is broken or cut short; export or photograph it again."
        ) from None
    return keep(upright, "PNG" if picture.format == "PNG" else "JPEG")


def _too_large() -> Refusal:
    return Refusal(
        f"The picture has more than {MOST_PIXELS // 1_000_000} million pixels; make it smaller.",
    )


def _opened(data: bytes) -> Image.Image:
    picture = Image.open(io.BytesIO(data), formats=FORMATS)
    if picture.width * picture.height > MOST_PIXELS:
        raise _too_large()
    # A photograph is made smaller while it is unpacked: never the whole of it in memory.
    picture.draft("RGB", (LONGEST_PX, LONGEST_PX))
    # A phone's photograph may carry a second picture (depth, gain map) behind the first.
    if picture.format != "MPO" and getattr(picture, "n_frames", 1) > 1:
        raise Refusal("The picture is animated; send one still frame of it.")
    if min(picture.size) < 8:
        raise Refusal("The picture is smaller than 8 pixels; there is nothing to see.")
    return picture


def _what_it_is(data: bytes) -> str:
    """A name for what was sent instead, from its first bytes."""
    known = (
        (b"GIF8", "a GIF"),
        (b"%PDF", "a PDF"),
        (b"BM", "a BMP picture"),
        (b"II*\x00", "a TIFF or raw picture"),
        (b"MM\x00*", "a TIFF or raw picture"),
        (b"PK", "a ZIP archive or document"),
        (b"<", "a text or SVG file"),
    )
    what = next((name for start, name in known if data.startswith(start)), "no picture we know")
    if data[4:8] == b"ftyp":
        what = "a phone's HEIC picture or a film clip"
    return f"This is {what}, whatever its name says. Send a PNG, a JPEG or a WebP."


def keep(picture: Image.Image, kind: str) -> Stored:
    """Flatten, shrink and write a picture anew."""
    if picture.mode in {"RGBA", "LA", "PA"} or "transparency" in picture.info:
        over = picture.convert("RGBA")
        flat = Image.new("RGBA", over.size, (*PAPER, 255))
        flat.alpha_composite(over)
        picture = flat
    picture = picture.convert("RGB")
    picture.thumbnail((LONGEST_PX, LONGEST_PX), Image.Resampling.LANCZOS)
    small = picture.copy()
    small.thumbnail((THUMB_PX, THUMB_PX), Image.Resampling.LANCZOS)
    return Stored(
        _written(picture, kind),
        _written(small, "JPEG"),
        ".png" if kind == "PNG" else ".jpg",
        *picture.size,
    )


def _written(picture: Image.Image, kind: str) -> bytes:
    out = io.BytesIO()
    # A bare copy: information of the old file must not travel along.
    bare = Image.new("RGB", picture.size)
    bare.paste(picture)
    if kind == "PNG":
        bare.save(out, "PNG", optimize=False, compress_level=6)
    else:
        bare.save(out, "JPEG", quality=88, subsampling=0)
    return out.getvalue()
