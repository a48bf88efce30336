"""Two pictures laid on each other. Loaded where that is done, which is never in a web process."""

from __future__ import annotations

import io
from typing import Any, TypeVar

import cv2
import numpy as np
from django.core.files.storage import default_storage
from numpy.typing import NDArray
from PIL import Image

from jungoptic.core.filmed.heard import judge_two
from jungoptic.core.filmed.pair import delivered_per_px, judge_pair, pair_of
from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures.align import changed
from jungoptic.core.plan.findings import Finding

from ..jobs.work import Work
from ..records import Refused
from ..takes.files import facts, ran
from .judging import Plans
from .models import Picture
from .pairs import Two
from .work import picture_of

T = TypeVar("T", bound=np.generic)
#: A change by this much, as recorded, is shown in full colour; below the other it is grain.
FULL, GRAIN = 0.12, 0.024
#: What changed is drawn in the ochre of everything that somebody may put right.
OCHRE = (208, 143, 20)


def lay(work: Work[Two]) -> None:
    """Measure how the second lies on the first, judge it, and draw what changed."""
    wanted = work.params
    one = picture_of(work, wanted.first_id)
    two = picture_of(work, wanted.second_id)
    first = look_of("first_frame", one, wanted.first_frame)
    second = look_of("second_frame", two, wanted.second_frame)
    work.tell(0, 3, "steps")
    both = {
        "first": [str(one.pk), wanted.first_frame],
        "second": [str(two.pk), wanted.second_frame],
    }
    claps = _claps(one, two)
    try:
        if first.shape != second.shape:
            second = _as_large(second, first)
        high, wide = first.shape[:2]
        first, second = (
            np.ascontiguousarray(part_of(whole, wanted.area)) for whole in (first, second)
        )
        pair = pair_of(first, second)
    except (Impossible, Refused) as error:
        # Two devices that look from two places may have heard the same board.
        if not claps:
            raise
        work.keep({"findings": claps, "changed": None, "apart": str(error), **both})
        return
    work.tell(1, 3, "steps")
    findings = judge_pair(pair, per_px(Plans().of(one), wide)) + claps
    work.tell(2, 3, "steps")
    away = changed(first, second, pair.lies)
    share = float((away > GRAIN).mean())
    work.keep({"findings": findings, "changed": share, "apart": "", **both})
    work.keep_file("changed.png", "image/png", _drawn(away, wanted.area, (high, wide)))


def _claps(one: Picture, two: Picture) -> list[Finding]:
    """How their sounds lie to each other, where the same board was clapped for both."""
    first, second, read = ran(one), ran(two), facts(one)
    if first is None or second is None or read is None:
        return []
    told = judge_two(first.heard, second.heard, read.fps)
    return [] if told is None else [told]


def look_of(field: str, picture: Picture, frame: int) -> NDArray[np.float32]:
    """A frame (h, w, 3) as it can be looked at, 0..1 as recorded. Raises Refused."""
    if frame not in picture.looks:
        raise Refused(field, f"{picture.name} has no frame {frame} that can be looked at.")
    try:
        with default_storage.open(picture.look(frame), "rb") as file:
            shown = Image.open(io.BytesIO(file.read())).convert("RGB")
    except FileNotFoundError:
        raise Refused(field, f"{picture.name} is gone from the server's disk.") from None
    return np.asarray(shown, np.float32) / np.float32(255.0)


def part_of(shown: NDArray[T], area: Any) -> NDArray[T]:
    """An area of a picture (h, w, c), as it lies in it; all of it for None."""
    if area is None:
        return shown
    high, wide = shown.shape[:2]
    left, top, right, bottom = area
    rows = slice(int(top * high), max(int(np.ceil(bottom * high)), int(top * high) + 2))
    columns = slice(int(left * wide), max(int(np.ceil(right * wide)), int(left * wide) + 2))
    return shown[rows, columns]


def _as_large(picture: NDArray[np.float32], other: NDArray[np.float32]) -> NDArray[np.float32]:
    """A picture of another size, made as large; another shape is another cut-out of the sensor,
    which nothing lays on it."""
    (high, wide), (own_high, own_wide) = other.shape[:2], picture.shape[:2]
    if abs(own_wide / own_high / (wide / high) - 1.0) > 0.01:
        raise Refused(
            "second_id",
            f"One is {wide} x {high} as it is looked at, the other {own_wide} x {own_high}: two "
            "shapes do not lie on each other.",
        )
    return np.asarray(cv2.resize(picture, (wide, high), interpolation=cv2.INTER_AREA), np.float32)


def per_px(plan: Any, wide: int) -> float:
    """Delivered pixels to one of a picture `wide` of them across; one where no plan says."""
    if plan is None:
        return 1.0
    shot, plate = plan
    try:
        return delivered_per_px(shot, plate, wide)
    except Impossible:
        return 1.0


def _drawn(away: NDArray[np.float32], area: Any, size: tuple[int, int]) -> bytes:
    """Where something changed within an area, to be laid over the whole first picture of a size
    (high, wide)."""
    strength = np.clip((away - GRAIN) / (FULL - GRAIN), 0.0, 1.0)
    drawn = np.empty((*away.shape, 4), np.uint8)
    drawn[..., :3] = OCHRE
    drawn[..., 3] = (strength * 200.0).astype(np.uint8)
    out = io.BytesIO()
    whole = np.zeros((*size, 4), np.uint8)
    part_of(whole, area)[:] = drawn
    Image.fromarray(whole).save(out, "PNG")
    return out.getvalue()
