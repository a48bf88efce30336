"""One frame measured, and a key tried on it. Loaded where that is done, which is never in a web
process."""

from __future__ import annotations

import dataclasses
import io
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from jungoptic.core.filmed import cloth as judging
from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures import cloth_map
from jungoptic.core.pictures.keying import SIDES, cloth
from jungoptic.core.pictures.screen import evenness, patches
from jungoptic.core.pictures.trial import LEAST, despilled, levels, tried
from jungoptic.core.plan.findings import Finding, worst_first
from jungoptic.core.screens.hair import recorded

from ..jobs.work import Work
from .frames import OneFrame
from .judging import Plans
from .laying import look_of, part_of, per_px
from .work import picture_of

Shown = NDArray[np.float32]
#: Other ways to record that the same frame is shown in, coarsest first.
WAYS = (("4:2:0", 8), ("4:2:2", 10))


def measure(work: Work[OneFrame]) -> None:
    """Measure a frame: its levels, its cloth, and a key tried on that."""
    wanted = work.params
    picture = picture_of(work, wanted.picture_id)
    whole = look_of("frame", picture, wanted.frame)
    shown = np.ascontiguousarray(part_of(whole, wanted.area))
    plan = Plans().of(picture)
    plate = None if plan is None else plan[1]
    colour = _colour(wanted, plate)
    findings = judging.judge_levels(plate, levels(shown))
    result: dict[str, Any] = {
        "frame": wanted.frame,
        "colour": colour,
        "area": wanted.area or (0.0, 0.0, 1.0, 1.0),
    }
    work.tell(1, 3, "steps")
    if colour is not None:
        there = cloth(shown, colour)
        if there.mean() < LEAST:
            planned = plate is not None and plate.kind == "screen"
            findings.append(judging.none_found(colour, planned))
        else:
            scale = per_px(plan, whole.shape[1])
            findings += _keyed(work, shown, colour, there, scale, result)
    work.keep({**result, "findings": worst_first(findings)})


def _keyed(
    work: Work[OneFrame], shown: Shown, colour: str, there: Any, scale: float, result: Any
) -> list[Finding]:
    low, high = work.params.low, work.params.high
    found: list[Finding] = []
    grain = 0.0
    try:
        told = patches(shown, there)
        own = SIDES[colour][0] if colour in SIDES else slice(None)
        level = float(shown[there][..., own].mean())
        measured = evenness(shown, there, found=told)
        grain = measured.noise
        found += judging.judge_cloth(colour, measured, cloth_map.places(told), level)
        result["lines"] = [dataclasses.asdict(line) for line in cloth_map.lines(told)]
        result["areas"] = [dataclasses.asdict(area) for area in cloth_map.areas(told)]
    except Impossible:
        # A black cloth that really is black has no light to be uneven.
        pass
    kept, trial = tried(shown, colour, low, high, there)
    work.tell(2, 3, "steps")
    found += judging.judge_key(colour, trial, scale, grain)
    result["trial"] = dataclasses.asdict(trial)
    result["ways"] = [_way(shown, kept, colour, way, low, high) for way in WAYS]
    work.keep_file("kept.png", "image/png", _drawn(despilled(shown, colour), kept))
    return found


def _way(
    shown: Shown, kept: Shown, colour: str, way: tuple[str, int], low: float, high: float
) -> dict[str, Any]:
    """The same key on the frame as another mode would have recorded it: before compression."""
    sampling, bits = way
    coarser = recorded(np.asarray(shown, np.float64) * 255.0, bits, sampling) / 255.0
    other, trial = tried(coarser.astype(np.float32), colour, low, high)
    edge = (kept > 0.05) & (kept < 0.95)
    lost = float(np.abs(other - kept)[edge].mean()) if edge.any() else 0.0
    return {"sampling": sampling, "bits": bits, "lost": lost, **dataclasses.asdict(trial)}


def _colour(wanted: OneFrame, plate: Any) -> str | None:
    if wanted.colour is not None:
        return None if wanted.colour == "none" else wanted.colour
    return str(plate.screen_colour) if plate is not None and plate.kind == "screen" else None


def _drawn(shown: Shown, kept: Shown) -> bytes:
    """What is kept, to be laid over anything."""
    whole = np.concatenate([shown, kept[..., None]], axis=2)
    out = io.BytesIO()
    Image.fromarray((np.clip(whole, 0.0, 1.0) * 255.0 + 0.5).astype(np.uint8)).save(
        out, "PNG", compress_level=3
    )
    return out.getvalue()
