"""Pictures as they are told: with what their files say, and whether that is as planned."""

from __future__ import annotations

import datetime
import uuid
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import replace
from typing import Any

from django.conf import settings

from jungoptic.core.board.seen import WAYS, FocalFrom, Stood, Way
from jungoptic.core.filmed.ball import BallSays, said_by_balls
from jungoptic.core.filmed.board import stood_by, up_of, way_of
from jungoptic.core.filmed.heard import Clap, claps_in
from jungoptic.core.filmed.marks import Offered, offered
from jungoptic.core.filmed.run import clears
from jungoptic.core.impossible import Impossible
from jungoptic.core.picked.seen import ByEdges, ByMarks
from jungoptic.core.pictures.facts import Facts
from jungoptic.core.pictures.ran import Ran
from jungoptic.core.plan.findings import Finding, Verdict, worst
from jungoptic.core.stage.case import Case
from jungoptic.core.stage.tape import mark_of

from ..jobs.models import OPEN, Job, State
from ..schemas import Out, Stored
from ..takes.crew import ByLink
from ..takes.files import (
    balled,
    called_in,
    edged,
    facts,
    held,
    marked,
    ran,
)
from . import room
from .fields import PictureFields
from .filing import its_card
from .judging import Plans, verdicts
from .models import Arrival, Picture
from .work import CAMERA_AGAIN, LOOK_AT, MEASURE, runs

#: Told of a picture whose reading has ended without a word.
CUT_OFF = "Reading it was cut off; have it read again."


class FileOut(Out):
    """A file of a picture, and how much of it is here. `path`: where it lies on the crew's own
    disk."""

    id: uuid.UUID
    position: int
    name: str
    size: int
    received: int
    sha256: str
    path: str


class Measuring(Out):
    """How far the measuring of a picture is, and the job that does it."""

    job_id: uuid.UUID
    part: float
    told: str


class PictureOut(Stored, PictureFields):
    """A picture. `facts`: what its file says, once read; `looks`: frames (from 1) that can be
    looked at; `told` and `part`: how far the reading is; `measuring`: how far it is with measuring
    it frame by frame, and `measured`: it was; `verdict`: the worst of what was found against the
    plan (null: nothing to hold it against); `same_as`: another picture with the very
    same file."""

    state: Arrival
    problem: str
    elsewhere: bool
    sent_by: str | None
    created_at: datetime.datetime
    size: int
    received: int
    file_count: int
    coming: list[FileOut]
    facts: Facts | None
    looks: list[int]
    look_width_px: int
    look_height_px: int
    reading: bool
    part: float
    told: str
    measuring: Measuring | None
    measured: bool
    verdict: Verdict | None


class HeldUp(Out):
    """The board that was held up in a picture. `called`: the slate of the card that it is the board
    of, "" where its number could not be read; `card_id`: that card, where this production has it;
    `elsewhere`: it is not the card of the take that the picture hangs on.
    `places` and `outline`: where it lies in `frame`, pixels of a picture of `width_px` x
    `height_px`. `way`: how it counts as having been, null where nothing is known of the camera;
    `up_m` is how far its lower edge counts as having been above the stage's ground; `lying` and
    `standing`: where the camera stood if it was so, the paper being as large as the card's ruler
    says."""

    frame: int
    called: str
    card_id: uuid.UUID | None
    elsewhere: bool
    places: list[tuple[float, float]]
    outline: list[tuple[float, float]]
    width_px: int
    height_px: int
    px_per_mm: float
    way: Way | None
    up_m: float
    lying: Stood | None
    standing: Stood | None
    rms_px: float
    focal_mm: float | None
    focal_told: FocalFrom
    focal_measured_mm: float | None
    focal_off_mm: float


class PictureWhole(PictureOut):
    """A picture with everything that is found of it. `ran`: what was measured frame by frame;
    `clears`: the median of its frames takes out who passes through; `unmeasured`: why it could not
    be measured; `claps`: sounds in it that can have been the board; `board`:
    the board that was held up in it; `by_marks` and `by_edges`: what was picked in it says of its
    camera, `by_balls` of the light. `offered`: places of its plan that can be picked, told from
    `mark`, the thing that tapes are laid to ("" for none)."""

    files: list[FileOut]
    findings: list[Finding]
    ran: Ran | None
    clears: bool
    claps: list[Clap]
    unmeasured: str
    board: HeldUp | None
    by_marks: ByMarks | None
    by_edges: ByEdges | None
    by_balls: list[BallSays]
    offered: list[Offered]
    mark: str
    of_shot: uuid.UUID | None
    same_as: str


class Quota(Out):
    """Bytes that a production's pictures take up, and may."""

    used: int
    most: int


class PictureList(Out):
    """Pictures, oldest first, and what the production may still hold. `more`: there are more."""

    pictures: list[PictureOut]
    quota: Quota
    more: bool


def quota_of(production: Any) -> dict[str, int]:
    """What a production's pictures take up, and may."""
    return {"used": room.used_by_production(production), "most": settings.PICTURE_QUOTA}


def told(pictures: Sequence[Picture], jobs: Jobs) -> list[dict[str, Any]]:
    """Pictures, ready for JSON. They come with their files and takes read; `jobs`: see
    `open_jobs`."""
    found = verdicts(pictures)
    return [_out(picture, found[picture.pk], jobs) for picture in pictures]


def whole(picture: Picture, jobs: Jobs) -> dict[str, Any]:
    """One picture with everything that is found of it."""
    plans = Plans()
    findings = plans.findings(picture)
    sums = [file.sha256 for file in picture.files.all() if file.sha256]
    same = Picture.objects.filter(production=picture.production_id, files__sha256__in=sums)
    twin = same.exclude(pk=picture.pk).filter(put_away=False).first() if sums else None
    told_by, case = marked(picture), _case(plans, picture)
    measured, read_of = ran(picture), facts(picture)
    thing = None if case is None else mark_of(case)
    return {
        **_out(picture, str(worst(findings)) if findings else None, jobs),
        "files": list(picture.files.all()),
        "findings": findings,
        "ran": measured,
        "clears": measured is not None and clears(measured),
        "claps": claps_in(measured, None if read_of is None else read_of.fps),
        "unmeasured": _unmeasured(picture),
        "board": _board(plans, picture),
        "by_marks": None if told_by is None else told_by.by,
        "by_edges": edged(picture),
        "by_balls": said_by_balls(case, balled(picture)),
        "offered": [] if case is None else offered(case),
        "mark": "" if thing is None else thing.name,
        "of_shot": _shot_of(picture),
        "same_as": "" if twin is None else twin.name,
    }


def _shot_of(picture: Picture) -> uuid.UUID | None:
    """The shot that a picture hangs on, or its plate or take does; None for none."""
    if picture.take is not None:
        return picture.take.card.plate.shot_id
    return picture.shot_id if picture.plate is None else picture.plate.shot_id


def _case(plans: Plans, picture: Picture) -> Case | None:
    """The plan of where a picture hangs, worked out; None where there is none."""
    plan = plans.of(picture)
    with suppress(Impossible):
        return None if plan is None else Case.of(*plan)
    return None


def _board(plans: Plans, picture: Picture) -> dict[str, Any] | None:
    found = held(picture, plans.card(picture))
    if found is None:
        return None
    seen, case = found.seen, _case(plans, picture)
    card = its_card(picture)
    return {
        "frame": seen.frame,
        "called": "" if seen.found.number is None else called_in(picture),
        "card_id": None if card is None else card.pk,
        "elsewhere": found.elsewhere != "",
        **{n: getattr(seen.found, n) for n in ("places", "outline", "width_px", "height_px")},
        "px_per_mm": seen.found.px_per_mm,
        "way": way_of(case, found),
        **{way: stood_by(case, replace(found, way=way)) for way in WAYS},
        "up_m": up_of(case, found),
        "rms_px": seen.rms_px,
        **{n: getattr(seen, n) for n in ("focal_mm", "focal_told", "focal_measured_mm")},
        "focal_off_mm": seen.focal_off_mm,
    }


#: The work on pictures that is told of in their list.
FOLLOWED = (LOOK_AT.key, CAMERA_AGAIN.key, MEASURE.key)
Jobs = dict[tuple[str, str], Job]


def open_jobs(production: Any) -> Jobs:
    """By kind of work and picture what goes on. Asked for before the pictures are read: else work
    that ends in between would be told as over, and what came of it not at all."""
    jobs = Job.objects.filter(production=production, kind__in=FOLLOWED, state__in=OPEN)
    return {(j.kind, str(j.params.get("picture_id"))): j for j in jobs if not j.cut_off}


def _open(picture: Picture) -> bool:
    """Whether it could be measured frame by frame, and was not."""
    return picture.ran is None and runs(picture)


def _unmeasured(picture: Picture) -> str:
    """What the last try to measure it ended with."""
    if not _open(picture):
        return ""
    jobs = Job.objects.filter(production=picture.production_id, kind=MEASURE.key)
    last = jobs.filter(params__picture_id=str(picture.pk)).order_by("-asked_at").first()
    return "" if last is None or last.state != State.FAILED else last.problem


def _sent_by(picture: Picture) -> str | None:
    if picture.sent_as:
        return ByLink(picture.sent_as).get_username()
    return None if picture.sent_by is None else picture.sent_by.get_username()


def _out(picture: Picture, verdict: str | None, jobs: Jobs) -> dict[str, Any]:
    files = list(picture.files.all())
    own = LOOK_AT.key, str(picture.pk)
    job = jobs.get(own)
    if job is None and picture.state == Arrival.HERE:
        # It may have arrived, and the work been asked for, since.
        job = open_jobs(picture.production_id).get(own)
    read_job = job or jobs.get((CAMERA_AGAIN.key, str(picture.pk)))
    runs = jobs.get((MEASURE.key, str(picture.pk)))
    lost = picture.state == Arrival.HERE and job is None
    names = (*PictureFields.model_fields, "state", "elsewhere", "created_at", "looks")
    return {
        **{n: getattr(picture, n) for n in (*names, "look_width_px", "look_height_px")},
        "id": picture.pk,
        "revision": picture.revision,
        "problem": CUT_OFF if lost else picture.problem,
        "sent_by": _sent_by(picture),
        "size": sum(file.size for file in files),
        "received": sum(file.received for file in files),
        "file_count": len(files),
        "coming": [f for f in files if f.received < f.size]
        if picture.state == Arrival.COMING
        else [],
        "facts": facts(picture),
        "reading": read_job is not None,
        "part": 0.0 if read_job is None else read_job.part,
        "told": "" if read_job is None else read_job.told,
        "measuring": None
        if runs is None
        else {"job_id": runs.pk, "part": runs.part, "told": runs.told},
        "measured": picture.ran is not None,
        "verdict": verdict,
    }
