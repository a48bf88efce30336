"""Whatever was filmed, read: a still, a clip, or a numbered sequence of stills."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np

from jungoptic.core.pictures.facts import Facts

from . import clip_facts, frames, stills
from .clip_facts import Tell
from .frames import Shown
from .kinds import Unreadable, type_of

#: The last run of digits in a name: the number of a picture in its sequence.
NUMBER = re.compile(r"(\d+)(?=\D*$)")
#: More missing numbers than this are not listed one by one.
MOST_MISSING = 200


def quiet(done: int, of: int) -> None:
    """Nobody asks how far it is."""


def facts_of(path: Path, tell: Tell = quiet) -> Facts:
    """What a file says of itself. Raises Unreadable."""
    return clip_facts.facts_of(path, tell) if type_of(path) == "clip" else stills.facts_of(path)


def number_in(name: str) -> int | None:
    """`IMG_0042.JPG` -> 42; None without a number."""
    found = NUMBER.search(Path(name).stem)
    return None if found is None else int(found.group(1))


def sequence_of(paths: Sequence[Path], names: Sequence[str], tell: Tell = quiet) -> Facts:
    """What a numbered sequence of stills says of itself, in the order given; `names` as the camera
    numbered them. Raises Unreadable, naming the picture, for one that cannot be read, is no still,
    or has not the size of the first."""
    found: list[Facts] = []
    for path, name in zip(paths, names, strict=True):
        try:
            one = stills.facts_of(path)
        except Unreadable as error:
            raise Unreadable(f"{name}: {error}") from error
        size = one.width_px, one.height_px
        if found and size != (found[0].width_px, found[0].height_px):
            raise Unreadable(
                f"{name} is {size[0]} x {size[1]} pixels, the first picture "
                f"{found[0].width_px} x {found[0].height_px}: they are not one sequence."
            )
        found.append(one)
        tell(len(found), len(paths))
    numbers = [number for name in names if (number := number_in(name)) is not None]
    return replace(
        found[0],
        kind="sequence",
        frames=len(found),
        missing=_missing(numbers),
        remarks=_changes(found, names),
    )


def _missing(numbers: Sequence[int]) -> tuple[int, ...]:
    """The numbers that a rising count leaves out. Cameras count every picture once; a file that
    counts on in twos or more was made so, and misses only what leaves that step."""
    steps = np.diff(numbers)
    if len(steps) == 0 or (steps <= 0).any():
        return ()
    step = int(np.median(steps))
    there = set(numbers)
    gone = [n for n in range(numbers[0], numbers[-1], max(step, 1)) if n not in there]
    return tuple(gone[:MOST_MISSING])


#: What must not change between the pictures of a sequence, and how it is called.
LOCKED = {
    "focal_mm": "focal length",
    "f_number": "stop",
    "exposure_s": "exposure time",
    "iso": "ISO",
}
#: Cameras round what they write.
ROUNDED = 0.01


def _changes(found: Sequence[Facts], names: Sequence[str]) -> tuple[str, ...]:
    """What the camera says it changed on the way, once each, where it first did."""
    said = []
    for field, word in LOCKED.items():
        values = [getattr(one, field) for one in found]
        first = values[0]
        if first is None:
            continue
        for value, name in zip(values, names, strict=True):
            if value is not None and abs(value - first) > ROUNDED * first:
                said.append(f"The {word} changes at {name}: lock it on the camera.")
                break
    return tuple(said)


def looks(
    paths: Sequence[Path], facts: Facts, count: int, longest_px: int
) -> Iterator[tuple[int, Shown]]:
    """At most `count` frames (from 1) from all over what was filmed, upright, at most `longest_px`
    on a side. Raises Unreadable when nothing can be decoded."""
    yield from looks_at(paths, facts, frames.spread(count, facts.frames), longest_px)


def looks_at(
    paths: Sequence[Path], facts: Facts, wanted: Sequence[int], longest_px: int
) -> Iterator[tuple[int, Shown]]:
    """The named frames (from 1, rising) of what was filmed, as `looks` shows them; none where none
    is named. Raises Unreadable when nothing can be decoded."""
    if not wanted:
        return
    if facts.kind == "clip":
        yield from frames.shown(paths[0], wanted, facts.fps or 1.0, longest_px)
        return
    for number in wanted:
        yield number, small(stills.read(paths[number - 1]), longest_px)


def small(picture: stills.Picture, longest_px: int) -> Shown:
    """A still as a screen shows it."""
    high, wide = picture.shape[:2]
    part = min(longest_px / max(wide, high), 1.0)
    if part < 1.0:
        size = max(round(wide * part), 1), max(round(high * part), 1)
        picture = np.asarray(cv2.resize(picture, size, interpolation=cv2.INTER_AREA), np.float32)
    shown: Shown = np.clip(picture * 255.0 + 0.5, 0.0, 255.0).astype(np.uint8)
    return shown
