"""Developing as work behind the scenes: somebody waits beside it."""

from __future__ import annotations

import uuid
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from ..jobs.work import Kind, Work
from ..permissions import Verb
from ..plans.models import Shot
from ..records import Refused
from .change import Change
from .keeping import Subject, keep, moments_of, plate_of, run

#: How wide pictures may be asked for, pixels.
Width = Literal[480, 960]
RunWidth = Literal[640, 960]
Part = Annotated[float, Field(ge=0.0, le=1.0)]
#: So many moments of a shot are filmed at once at most.
MOST_MOMENTS = 8


class Wanted(BaseModel, extra="forbid"):
    """Which picture: a plate of a shot, or without one the story of a view, at a frame from 1;
    `change`: the plate not as planned, but as something would make it; `at`: not all of it, but a
    place pixel for pixel as the card keeps it (right and down, parts of the picture)."""

    shot_id: uuid.UUID
    plate_id: uuid.UUID | None = None
    view_id: uuid.UUID | None = None
    frame: Annotated[int, Field(ge=1, le=1_000_000)] = 1
    width: Width = 480
    change: Change = Change()
    at: tuple[Part, Part] | None = None


class WantedRun(BaseModel, extra="forbid"):
    """Which dry run: a view of a shot (null: the first camera's), at a frame from 1, or at so many
    `moments` from its first to its last frame."""

    shot_id: uuid.UUID
    view_id: uuid.UUID | None = None
    frame: Annotated[int, Field(ge=1, le=1_000_000)] = 1
    moments: Annotated[int, Field(ge=2, le=MOST_MOMENTS)] | None = None
    width: RunWidth = 640


class WantedRunClip(BaseModel, extra="forbid"):
    """Which dry run is filmed as a clip: a view of a shot (null: the first camera's)."""

    shot_id: uuid.UUID
    view_id: uuid.UUID | None = None


def shot_of(work: Work[Any], pk: uuid.UUID) -> Shot:
    """A shot of the production that work is for. Raises Refused."""
    shot = Shot.objects.filter(pk=pk, production=work.production).first()
    if shot is None:
        raise Refused("shot_id", "This production has no such shot any more.")
    return shot


def _develop(work: Work[Wanted]) -> None:
    wanted = work.params
    shot = shot_of(work, wanted.shot_id)
    plate = plate_of(shot, wanted.plate_id)
    if plate is None and wanted.change.key:
        raise Refused("change", "The story is not changed: name the plate that would be.")
    if plate is None and wanted.at is not None:
        raise Refused("at", "No card keeps the story: name the plate that is recorded.")
    subject = Subject(plate, wanted.view_id, wanted.frame, wanted.change, wanted.at)
    made = keep(shot, subject, wanted.width, lambda done, of: work.tell(done, of + 1, "steps"))
    work.keep({"developed": str(made.pk)})


def _run(work: Work[WantedRun]) -> None:
    wanted = work.params
    shot = shot_of(work, wanted.shot_id)
    frames = [wanted.frame]
    if wanted.moments is not None:
        frames = moments_of(shot, wanted.view_id, wanted.moments)
    made = []
    for begun, frame in enumerate(frames):

        def tell(done: int, of: int, begun: int = begun) -> None:
            work.tell(begun * of + done, len(frames) * of, "steps")

        made.append(run(shot, wanted.view_id, frame, wanted.width, tell))
    work.keep({"dry_run": str(made[-1].pk)})


def _run_clip(work: Work[WantedRunClip]) -> None:
    # What writes clips is large, and a web process never needs it.
    from .clip import run_clip

    wanted = work.params
    made = run_clip(
        shot_of(work, wanted.shot_id),
        wanted.view_id,
        lambda done, of: work.tell(done, of, "pictures"),
    )
    work.keep({"dry_run": str(made.pk)})


DEVELOP = Kind(
    "develop", "A developed picture", Verb.VIEW, Wanted, _develop, queue="short", warm=True
)
DRY_RUN = Kind("dry-run", "A dry run", Verb.VIEW, WantedRun, _run)
DRY_RUN_CLIP = Kind("dry-run-clip", "A dry run as a clip", Verb.VIEW, WantedRunClip, _run_clip)
