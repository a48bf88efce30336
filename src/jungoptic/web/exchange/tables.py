"""Shot lists as CSV: read whatever a spreadsheet wrote, guess the columns, go over the lines."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from ..records import Refused
from .arriving import MOST_ROWS, TAKEN, Row

#: The most lines and columns that are looked at.
MOST_COLUMNS = 200
ENCODINGS = ("utf-8-sig", "utf-16", "cp1252")
#: Words that spreadsheets use for a field.
HINTS: dict[str, tuple[str, ...]] = {
    "number": ("number", "shot", "no", "nr", "id", "shot number", "scene"),
    "title": ("title", "what we see", "description", "name", "shot name"),
    "action": ("action", "line", "notes", "note", "what happens"),
    "place": ("place", "location", "set", "where"),
    "time_of_day": ("time of day", "time", "day/night", "when"),
    "screen_time_s": ("screen time", "duration", "length", "seconds", "secs", "screen time (s)"),
    "focal_mm": ("focal", "lens", "focal length", "focal length (mm)"),
    "camera_height_m": ("height", "camera height", "camera height (m)"),
    "edit_name": ("edit name", "name in the edit", "clip", "clip name"),
}
NUMBERS = {"screen_time_s", "focal_mm", "camera_height_m"}


@dataclass(frozen=True)
class Sheet:
    """A table as read: headers, rows of cells, and how it was written."""

    columns: tuple[str, ...]
    rows: tuple[tuple[int, tuple[str, ...]], ...]
    delimiter: str
    encoding: str


def read(data: bytes) -> Sheet:
    """Read a CSV of any usual delimiter and encoding.

    Raises `Refused` for what is no table: binary, empty, too long, one column only.
    """
    text, encoding = _text(data)
    lines = text.splitlines()
    if not any(line.strip() for line in lines):
        raise Refused("file", "The file is empty; the first line should name the columns.")
    delimiter = _delimiter(lines)
    rows: list[tuple[int, tuple[str, ...]]] = []
    reader = csv.reader(io.StringIO(text), delimiter=delimiter)
    header: tuple[str, ...] | None = None
    try:
        for cells in reader:
            if not any(cell.strip() for cell in cells):
                continue
            if header is None:
                header = tuple(c.strip() for c in cells)
                continue
            if len(rows) >= MOST_ROWS:
                more = len(lines) - reader.line_num
                raise Refused(
                    "file",
                    f"The table has more than {MOST_ROWS:,} shots (about {more + MOST_ROWS:,} "
                    "lines); split it by reel.",
                )
            rows.append((reader.line_num, tuple(c.strip() for c in cells)))
    except csv.Error as error:
        raise Refused(
            "file", f"Line {reader.line_num} cannot be read as a table: {error}."
        ) from None
    assert header is not None
    if len(header) > MOST_COLUMNS:
        raise Refused("file", f"The table has {len(header)} columns; that is no shot list.")
    if len(header) == 1 and len(rows) > 0:
        raise Refused(
            "file",
            "Only one column was found. Save the list as CSV with commas, semicolons or tabs "
            "between the columns.",
        )
    if not rows:
        raise Refused("file", "The table has a first line with names but no shots under it.")
    return Sheet(_distinct(header), tuple(rows), delimiter, encoding)


def _text(data: bytes) -> tuple[str, str]:
    if b"\x00" in data[:4000] and not data.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise Refused("file", "This is no text file. Save the list as CSV and send that.")
    for encoding in ENCODINGS:
        if encoding == "utf-16" and not data.startswith((b"\xff\xfe", b"\xfe\xff")):
            continue
        try:
            return data.decode(encoding), encoding
        except UnicodeDecodeError:
            continue
    raise Refused("file", "The letters cannot be read; save the list as CSV in UTF-8.")


def _delimiter(lines: list[str]) -> str:
    """The separator that cuts the first lines into equally many columns, and most of them."""
    sample = [line for line in lines[:20] if line.strip()]

    def score(mark: str) -> tuple[bool, int]:
        try:
            counts = [len(row) for row in csv.reader(sample, delimiter=mark)]
        except csv.Error:
            return False, 0
        even = sum(c == counts[0] for c in counts) > len(counts) * 0.6
        return even and counts[0] > 1, counts[0]

    return max((",", ";", "\t", "|"), key=score)


def _distinct(header: tuple[str, ...]) -> tuple[str, ...]:
    """Column names, numbered where two are the same or one is empty."""
    found: list[str] = []
    for i, name in enumerate(header, start=1):
        plain = name or f"column {i}"
        twice = plain
        n = 2
        while twice in found:
            twice = f"{plain} ({n})"
            n += 1
        found.append(twice)
    return tuple(found)


def guess(columns: tuple[str, ...]) -> dict[str, str]:
    """Field -> column, by the words that spreadsheets use; each column once."""
    free = {c.lower(): c for c in columns}
    found: dict[str, str] = {}
    for name in TAKEN:
        words = (TAKEN[name].lower(), *HINTS[name])
        hit = next((free[w] for w in words if w in free), None)
        if hit is not None:
            found[name] = hit
            del free[hit.lower()]
    return found


def rows_of(sheet: Sheet, mapping: dict[str, str]) -> Iterator[Row]:
    """The lines as shots. Raises `Refused` for a mapping that names no such field or column."""
    for name, column in mapping.items():
        if name not in TAKEN:
            raise Refused("mapping", f"“{name}” is nothing that a shot takes from a table.")
        if column not in sheet.columns:
            raise Refused("mapping", f"The table has no column called “{column}”.")
    for needed in ("number", "title"):
        if needed not in mapping:
            raise Refused("mapping", f"Say which column holds: {TAKEN[needed]}.")
    places = {name: sheet.columns.index(column) for name, column in mapping.items()}
    for line, cells in sheet.rows:
        values: dict[str, Any] = {}
        problems: list[str] = []
        for name, place in places.items():
            cell = _unarmed(cells[place]) if place < len(cells) else ""
            if name in NUMBERS:
                if not cell:
                    continue
                number = seconds(cell) if name == "screen_time_s" else plain_number(cell)
                if number is None:
                    problems.append(f"{TAKEN[name]}: “{cell[:40]}” is no number.")
                else:
                    values[name] = number
            else:
                values[name] = cell
        if len(cells) > len(sheet.columns):
            problems.append(
                f"The line has {len(cells)} cells for {len(sheet.columns)} columns; is a text with "
                "a separator in it without quotes?"
            )
        yield Row(line, str(values.get("number", "")), values, problems=problems)


def _unarmed(cell: str) -> str:
    """Our own export puts an apostrophe before what a spreadsheet would run; take it off again."""
    return cell[1:] if cell[:1] == "'" and cell[1:2] in {"=", "+", "-", "@"} else cell


def plain_number(cell: str) -> float | None:
    """`35`, `1,5`, `35 mm`; None for anything else."""
    words = cell.replace(",", ".").split()
    if not words or len(words) > 2:
        return None
    try:
        found = float(words[0].rstrip("m s"))
    except ValueError:
        return None
    return found if abs(found) < 1e9 else None


def seconds(cell: str) -> float | None:
    """`4`, `4.5 s`, `0:04`, `1:02:03`: screen time in seconds; None for anything else."""
    if ":" not in cell:
        return plain_number(cell)
    parts = cell.replace(",", ".").split(":")
    if len(parts) > 3:
        return None
    total = 0.0
    for part in parts:
        try:
            total = total * 60.0 + float(part)
        except ValueError:
            return None
    return total
