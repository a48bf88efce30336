"""Making rough composites, and keeping what came of them. Loaded by workers alone."""

from __future__ import annotations

import uuid
from collections.abc import Iterator, Sequence
from typing import Any

from django.db import transaction
from pydantic_core import to_jsonable_python

from jungoptic.core.filmed import rough_judged as judging
from jungoptic.core.plan import in_view
from jungoptic.core.plan.findings import Finding, worst_first
from jungoptic.core.plan.shot import Shot as CoreShot
from jungoptic.core.stage.in_frame import part_at

from .. import documents
from ..clips import keep_clip
from ..developed.keeping import stamp
from ..developed.work import shot_of
from ..jobs.work import Work
from ..plans.bridge import load
from ..plans.models import Shot
from ..plans.stored import plan_json
from ..records import Refused
from ..storage import forget, keep_picture
from .choosing import filmed_of
from .making import (
    Made,
    layer_of,
    planned_picture,
    seams_of,
    shown_of,
    together,
    told_of,
)
from .models import FOLDER, MOST, MOST_CLIPS, Rough
from .sources import Reels, Source, sources_of
from .work import CLIP_PX, WantedClip, WantedRough


def _view(work: Work[Any], view_id: uuid.UUID | None) -> tuple[Shot, dict[str, Any], CoreShot]:
    """The shot, its plan as stored, and what one view of it shows. Raises Refused."""
    row = shot_of(work, work.params.shot_id)
    plan = plan_json(row)
    return row, plan, in_view(load(plan), None if view_id is None else str(view_id))


def _size(shot: CoreShot, width: int) -> tuple[int, int]:
    """Wide and high, both even, as clips must be."""
    return width, max(2 * round(width / shot.delivery.aspect / 2.0), 2)


def _sources(row: Shot, shot: CoreShot, work: Work[Any], frame: int) -> list[Source]:
    filmed = filmed_of(row.pk, shot)
    found = sources_of(shot, filmed, work.params.picks, part_at(shot, frame))
    if not any(one.filmed is not None for one in found):
        raise Refused(
            "shot_id",
            "Nothing that can be laid in is filmed of this shot yet: drop a clip or a still on a "
            "plate or a take.",
        )
    return found


def still(work: Work[WantedRough]) -> None:
    """Put one frame together, judge it, and keep it."""
    wanted = work.params
    row, plan, shot = _view(work, wanted.view_id)
    frame = min(wanted.frame, shot.frames)
    part, size = part_at(shot, frame), _size(shot, wanted.width)
    sources = _sources(row, shot, work, frame)
    steps = len(sources) + 2
    made: list[Made] = []
    with Reels(sources, [frame], wanted.width) as reels:
        for number, one in enumerate(sources):
            work.tell(number, steps, "steps")
            recorded = reels.next(one)
            if recorded is not None:
                made.append(layer_of(shot, one, recorded, part, size, measure=True))
    found = together(made, size)
    work.tell(steps - 2, steps, "steps")
    per_px = shot.delivery.width_px / size[0]
    findings: list[Finding] = []
    for layer in made:
        findings += judging.judge_laid(told_of(shot, layer, part, size), per_px)
    for seam in seams_of(shot, made):
        findings += judging.judge_seam(seam, per_px)
    missing = [
        s.piece.plate.name
        for s in sources
        # What films nothing that is planned may be there or not; holes tell.
        if s.filmed is None and not s.pick.left_out and shot.stand_ins_of(s.piece.plate)
    ]
    left_out = any(one.pick.left_out for one in sources)
    if missing or not left_out:
        findings.append(judging.judge_hole(found.hole, missing))
    work.tell(steps - 1, steps, "steps")
    composite = keep_picture(f"{FOLDER}/{uuid.uuid4()}", shown_of(shot, found, frame))
    planned = keep_picture(f"{FOLDER}/{uuid.uuid4()}", planned_picture(shot, sources, frame, size))
    kept = Rough(
        shot=row,
        view_id=wanted.view_id,
        frame=frame,
        width_px=size[0],
        height_px=size[1],
        stamp=stamp(plan),
        told=_told(sources, frame, found.hole, judging.answer(findings, missing), findings),
        composite=composite,
        planned=planned,
    )
    _keep(kept)
    work.keep({"rough": str(kept.pk)})


def clip(work: Work[WantedClip]) -> None:
    """Put every frame together, as a clip of VP9."""
    wanted = work.params
    row, plan, shot = _view(work, wanted.view_id)
    sources, size = _sources(row, shot, work, 1), _size(shot, CLIP_PX)
    frames = range(1, shot.frames + 1)

    def each() -> Iterator[Any]:
        with Reels(sources, frames, CLIP_PX) as reels:
            for frame in frames:
                work.tell(frame - 1, shot.frames, "frames")
                part = part_at(shot, frame)
                made = []
                for one in sources:
                    recorded = reels.next(one)
                    if recorded is not None:
                        made.append(layer_of(shot, one, recorded, part, size, measure=False))
                yield shown_of(shot, together(made, size), frame)

    stored = keep_clip(f"{FOLDER}/{uuid.uuid4()}", each(), shot.delivery.fps)
    kept = Rough(
        shot=row,
        view_id=wanted.view_id,
        frame=None,
        width_px=size[0],
        height_px=size[1],
        stamp=stamp(plan),
        told=_told(sources, 1),
        composite=stored,
    )
    _keep(kept)
    work.keep({"rough": str(kept.pk)})


def _told(
    sources: Sequence[Source],
    frame: int,
    hole: float = 0.0,
    answer: str = "",
    findings: Sequence[Finding] = (),
) -> dict[str, Any]:
    """What went in and what it says, as it is stored."""
    told = {"layers": _layers(sources, frame), "hole": hole, "answer": answer}
    found = to_jsonable_python(worst_first(list(findings)), inf_nan_mode="null")
    return documents.ROUGH.stamped({**told, "findings": found})


def _layers(sources: Sequence[Source], frame: int) -> list[dict[str, Any]]:
    """What went in, farthest first, as it is told."""
    return [
        {
            "plate_id": one.piece.plate.id,
            "picture_id": None if one.filmed is None else str(one.filmed.picture.pk),
            "name": "" if one.filmed is None else one.filmed.name,
            "shown": 0 if one.filmed is None else min(one.numbers[frame - 1], one.filmed.frames),
            "begins": None if one.filmed is None else one.filmed.begins,
            "counted": one.pick.picture_id is None,
            "left_out": one.pick.left_out,
            "low": one.pick.low,
            "high": one.pick.high,
        }
        for one in sources
    ]


def _keep(made: Rough) -> None:
    """Keep it in the place of an older one of the same frame."""
    with transaction.atomic():
        made.save()
        own = Rough.objects.filter(shot=made.shot, frame__isnull=made.frame is None)
        same = own.filter(view_id=made.view_id, frame=made.frame).exclude(pk=made.pk)
        most = MOST_CLIPS if made.frame is None else MOST
        gone = {one.pk: one for one in [*same, *own[most:]]}
        Rough.objects.filter(pk__in=list(gone)).delete()
        names = [name for one in gone.values() for name in (one.composite, one.planned)]
        forget([name for name in names if name])
