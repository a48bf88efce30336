"""What a file is, by what is in it: its name may say anything."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

#: Pictures by the library that reads them, and everything else that may be a clip.
FileType = Literal["JPEG", "PNG", "WEBP", "raw or TIFF", "clip"]


class Unreadable(ValueError):
    """A file that is not what it should be, or breaks off; says so in words."""


#: How files begin that hold no picture we read, and what to call them.
OTHERS = (
    (b"GIF8", "a GIF: send a clip or single pictures"),
    (b"%PDF", "a PDF"),
    (b"PK\x03\x04", "an archive or a document: unpack it first"),
    (b"Rar!", "an archive: unpack it first"),
    (b"7z\xbc\xaf", "an archive: unpack it first"),
    (b"\x1f\x8b", "an archive: unpack it first"),
    (b"\x7fELF", "a program"),
    (b"MZ", "a program"),
    (b"<", "a text or a drawing, not a recording"),
    (b"#EXTM3U", "a playlist, not a recording"),
    (b"BM", "a BMP picture: send it as PNG"),
)
#: The brands of still pictures in the container that clips use too (ISO/IEC 23008-12).
STILL_BRANDS = {b"heic", b"heix", b"mif1", b"msf1", b"hevc", b"hevx", b"avif", b"avis"}
HEAD = 64


def type_of(path: Path) -> FileType:
    """What a file is by its first bytes. Raises Unreadable for what is no picture."""
    try:
        with path.open("rb") as file:
            head = file.read(HEAD)
    except OSError as error:
        raise Unreadable(f"The file cannot be opened: {error.strerror}.") from error
    if not head:
        raise Unreadable("The file is empty.")
    if not any(head):
        raise Unreadable("The file begins with nothing but zeros: the copy of it went wrong.")
    if head.startswith(b"\xff\xd8\xff"):
        return "JPEG"
    if head.startswith(b"\x89PNG\r\n\x1a\n"):
        return "PNG"
    if head[:4] == b"RIFF" and head[8:12] == b"WEBP":
        return "WEBP"
    if head[:4] in (b"II*\x00", b"MM\x00*", b"II+\x00", b"MM\x00+"):
        return "raw or TIFF"
    if head[4:8] == b"ftyp" and head[8:12] in STILL_BRANDS:
        raise Unreadable(
            "This is a still of the kind that phones write to save room; set the phone to JPEG "
            "(“most compatible”), or export it as JPEG."
        )
    for start, what in OTHERS:
        if head.startswith(start):
            raise Unreadable(f"This is {what}.")
    return "clip"
