"""Stills: what they say of themselves, and their pixels."""

from __future__ import annotations

import contextlib
import datetime
import struct
import warnings
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import rawpy
from numpy.typing import NDArray
from PIL import ExifTags, Image, ImageFile, ImageOps, TiffImagePlugin, UnidentifiedImageError

from jungoptic.core.pictures.facts import Facts

from .kinds import Unreadable, type_of

#: (h, w, 3), 0..1 as recorded.
Picture = NDArray[np.float32]
#: The most pixels that are unpacked: no camera on a low budget has more.
MOST_PIXELS = 150_000_000
#: Tag of the open raw format (DNG 1.0): which version of it the file is.
DNG_VERSION = 50706
BITS_PER_SAMPLE = 258
#: Turned and mirrored as the tag Orientation says (Exif 2.32, 4.6.4 A): degrees clockwise.
TURNS = {3: 180, 4: 180, 5: 90, 6: 90, 7: 270, 8: 270}
MODES = {"1": 1, "L": 8, "P": 8, "RGB": 8, "RGBA": 8, "YCbCr": 8, "CMYK": 8, "LA": 8}
TOLD = (OSError, SyntaxError, ValueError, EOFError, MemoryError, struct.error, KeyError, TypeError)
#: Shorter on a side than this there is nothing to see.
SMALLEST_PX = 8


def facts_of(path: Path) -> Facts:
    """What a still says of itself. Raises Unreadable."""
    kind = type_of(path)
    if kind == "clip":
        raise Unreadable("This is no still.")
    with _opened(path, kind) as picture:
        if picture is None:
            return _raw_facts(path)
        if _is_raw(picture):
            return _raw_facts(path, _exif(picture))
        _refuse_odd(picture)
        exif = _exif(picture)
        turned = TURNS.get(int(exif.get("Orientation", 1) or 1), 0)
        wide, high = picture.size
        if turned in (90, 270):
            wide, high = high, wide
        return Facts(
            kind="still",
            codec=str(picture.format).replace("MPO", "JPEG"),
            container=str(picture.format).replace("MPO", "JPEG"),
            width_px=wide,
            height_px=high,
            bit_depth=_bits(picture, path),
            subsampling=_sampling(picture),
            turned_deg=turned,
            **_camera(exif),
        )


def read(path: Path) -> Picture:
    """The pixels of a still, upright. Raises Unreadable."""
    kind = type_of(path)
    if kind == "clip":
        raise Unreadable("This is no still.")
    with _opened(path, kind) as picture:
        if picture is None or _is_raw(picture):
            return _developed(path)
        _refuse_odd(picture)
        if picture.mode.startswith("I") or (_bits(picture, path) or 8) > 8:
            return _deep(path)
        levels = _upright(picture)
    return levels.astype(np.float32) / np.float32(255.0)


def _upright(picture: Image.Image) -> NDArray[np.uint8]:
    """The pixels (h, w, 3) of a still of eight bits, turned as it says. Raises Unreadable."""
    try:
        ImageFile.LOAD_TRUNCATED_IMAGES = False
        return np.asarray(ImageOps.exif_transpose(picture).convert("RGB"))
    except TOLD as error:
        raise _broken() from error


def small(path: Path, wide: int) -> Picture:
    """The pixels of a still, upright, `wide` pixels across at most. Raises Unreadable."""
    shown = small_levels(path, wide)
    if shown.dtype != np.uint8:
        return shown
    found: Picture = shown.astype(np.float32) / np.float32(255.0)
    return found


def small_levels(path: Path, wide: int) -> NDArray[Any]:
    """The same as the file holds them: of a JPEG levels of eight bits, which are made smaller while
    they are read. Raises Unreadable."""
    if type_of(path) == "JPEG":
        with _opened(path, "JPEG") as picture:
            if picture is not None and picture.mode in ("RGB", "L"):
                _refuse_odd(picture)
                high = round(wide * picture.height / picture.width)
                picture.draft("RGB", (wide, max(high, 1)))
                levels: NDArray[np.uint8] = _narrow(_upright(picture), wide)
                return levels
    narrow: Picture = _narrow(read(path), wide)
    return narrow


def _narrow(picture: Any, wide: int) -> Any:
    """A picture (h, w, 3) `wide` pixels across at most, each the mean of what it covers."""
    part = min(wide / picture.shape[1], 1.0)
    size = max(round(picture.shape[1] * part), 2), max(round(picture.shape[0] * part), 2)
    return cv2.resize(picture, size, interpolation=cv2.INTER_AREA) if part < 1.0 else picture


def _broken() -> Unreadable:
    return Unreadable("The picture is broken or cut short; copy it from the camera again.")


@contextlib.contextmanager
def _opened(path: Path, kind: str) -> Iterator[Image.Image | None]:
    """The file as a picture whose pixels are not read yet; None for a raw file of its own kind."""
    formats = ("TIFF",) if kind == "raw or TIFF" else (kind, "MPO") if kind == "JPEG" else (kind,)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            picture = Image.open(path, formats=formats)
    except (UnidentifiedImageError, *TOLD) as error:
        if kind != "raw or TIFF":
            raise _broken() from error
        yield None
        return
    except Image.DecompressionBombError as error:
        raise _too_large() from error
    with picture:
        yield picture


def _too_large() -> Unreadable:
    return Unreadable(f"The picture has more than {MOST_PIXELS // 1_000_000} million pixels.")


def _refuse_odd(picture: Image.Image) -> None:
    if picture.width * picture.height > MOST_PIXELS:
        raise _too_large()
    if min(picture.size) < SMALLEST_PX:
        raise Unreadable("The picture is smaller than 8 pixels; there is nothing to see.")
    # A phone's photograph may carry a second picture behind the first.
    if picture.format not in ("MPO", "TIFF") and getattr(picture, "n_frames", 1) > 1:
        raise Unreadable("The picture is animated; send a clip or single pictures.")


def _is_raw(picture: Image.Image) -> bool:
    tags = getattr(picture, "tag_v2", {})
    return DNG_VERSION in tags


def _bits(picture: Image.Image, path: Path) -> int | None:
    """Bits a sample: where the library says eight of what has more, the file's own word."""
    if picture.format == "PNG":
        # Byte 24: the bit depth of the header chunk (ISO/IEC 15948, 11.2.2).
        with path.open("rb") as file:
            return file.read(25)[24]
    if picture.format == "TIFF" and isinstance(picture, TiffImagePlugin.TiffImageFile):
        found = picture.tag_v2.get(BITS_PER_SAMPLE)
        return int(max(found)) if found else 1
    return MODES.get(picture.mode)


def _sampling(picture: Image.Image) -> str:
    """Chroma samples to luma samples of a JPEG, from its frame header."""
    layer = getattr(picture, "layer", None)
    if picture.format not in ("JPEG", "MPO") or not layer or len(layer) < 3:
        return "4:4:4" if picture.format in ("PNG", "TIFF") else ""
    across, down = layer[0][1] // layer[1][1], layer[0][2] // layer[1][2]
    return {(1, 1): "4:4:4", (2, 1): "4:2:2", (2, 2): "4:2:0", (4, 1): "4:1:1"}.get(
        (across, down), ""
    )


def _exif(picture: Image.Image) -> dict[str, Any]:
    """Exif tags by name; what is damaged is left out."""
    try:
        found = picture.getexif()
        inner = found.get_ifd(ExifTags.IFD.Exif)
    except TOLD:
        return {}
    return {ExifTags.TAGS.get(k, str(k)): v for k, v in {**found, **inner}.items()}


def _number(value: Any) -> float | None:
    """A number that a camera wrote; None for zero and nonsense, by which it says "unknown"."""
    try:
        one = float(value[0] if isinstance(value, tuple | list) else value)
    except (TypeError, ValueError, ZeroDivisionError, IndexError):
        return None
    return one if np.isfinite(one) and one > 0.0 else None


def _camera(exif: dict[str, Any]) -> dict[str, Any]:
    """What the camera wrote (Exif 2.32): the true focal length, never its "35 mm equivalent",
    which is worth three per cent."""
    return {
        "focal_mm": _number(exif.get("FocalLength")),
        "f_number": _number(exif.get("FNumber")),
        "exposure_s": _number(exif.get("ExposureTime")),
        # The tag was renamed; zero and 65535 say that the number did not fit.
        "iso": _sensitivity(exif),
        "shot_at": _clock(exif),
    }


def _sensitivity(exif: dict[str, Any]) -> float | None:
    plain = _number(exif.get("ISOSpeedRatings") or exif.get("PhotographicSensitivity"))
    return _number(exif.get("RecommendedExposureIndex")) if plain == 65535 else plain


def _clock(exif: dict[str, Any]) -> str:
    said = str(exif.get("DateTimeOriginal") or exif.get("DateTime") or "").strip("\0 ")
    try:
        when = datetime.datetime.strptime(said, "%Y:%m:%d %H:%M:%S")
    except ValueError:
        return ""
    zone = str(exif.get("OffsetTimeOriginal") or "").strip("\0 ")
    with contextlib.suppress(ValueError):
        return datetime.datetime.fromisoformat(when.isoformat() + zone).isoformat()
    return when.isoformat()


def _raw_facts(path: Path, exif: dict[str, Any] | None = None) -> Facts:
    try:
        with rawpy.imread(str(path)) as raw:
            size, white = raw.sizes, int(raw.white_level)
    except (rawpy.LibRawError, *TOLD) as error:
        raise Unreadable(
            "This looks like a raw file or a TIFF and cannot be read as either; export it as "
            "TIFF or JPEG."
        ) from error
    wide, high = int(size.iwidth or size.width), int(size.iheight or size.height)
    # LibRaw's flip: 3 upside down, 5 and 6 a quarter turn.
    turned = {3: 180, 5: 270, 6: 90}.get(int(size.flip), 0)
    if turned in (90, 270):
        wide, high = high, wide
    if wide * high > MOST_PIXELS:
        raise _too_large()
    return Facts(
        kind="still",
        codec="raw",
        container="raw",
        width_px=wide,
        height_px=high,
        bit_depth=max(white, 1).bit_length(),
        # One colour a photosite: as fine as the sensor has it, which is no subsampling.
        subsampling="",
        turned_deg=turned,
        **_camera(exif or {}),
    )


def _developed(path: Path) -> Picture:
    """A raw file as its camera was set: its white balance, nothing brightened."""
    try:
        with rawpy.imread(str(path)) as raw:
            found = raw.postprocess(use_camera_wb=True, no_auto_bright=True, output_bps=16)
    except (rawpy.LibRawError, *TOLD) as error:
        raise _broken() from error
    return np.asarray(found, np.float32) / np.float32(65535.0)


def _deep(path: Path) -> Picture:
    """A still of more than eight bits."""
    found = cv2.imdecode(np.fromfile(path, np.uint8), cv2.IMREAD_COLOR | cv2.IMREAD_ANYDEPTH)
    if found is None:
        raise _broken()
    whole = {"uint8": 255.0, "uint16": 65535.0}.get(found.dtype.name)
    if whole is None:
        # Light in numbers of its own, which nobody has said the white of.
        return np.clip(found[..., ::-1].astype(np.float32), 0.0, 1.0)
    return np.ascontiguousarray(found[..., ::-1]).astype(np.float32) / np.float32(whole)
