"""Developing a plate of a stored plan, and keeping what came of it."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Iterator, Sequence
from dataclasses import asdict, dataclass, field
from typing import Any

import numpy as np
from django.db import transaction
from numpy.typing import NDArray

from jungoptic.core import plan as core
from jungoptic.core.plan import in_view
from jungoptic.core.stage.in_frame import part_at
from jungoptic.render import dry_run
from jungoptic.render.closely import Kept, closely
from jungoptic.render.picture import Picture, develop

from ..kept import answers
from ..plans.bridge import load
from ..plans.models import Plate, Shot
from ..plans.stored import plan_json
from ..records import Refused
from ..storage import forget, keep_picture
from .change import Change, changed
from .models import FOLDER, MOST, MOST_CHANGED, MOST_CLIPS, MOST_RUNS, Developed, DryRun

#: Decisions that say something only where they are taken.
SELDOM = frozenset({"screen_foot_m", "on_side"})
#: Decisions that say something only of what is placed in post.
OF_PLACING = frozenset({"placed_in_post", "placed_from_m", "walks_on_set"})

#: What holds and carries, of a kit and of a plate.
GRIP = frozenset({"rigs", "supports", "cloths", "cords", "people", "support_id", "cloth_id"})

Tell = Callable[[int, int], None]


def shown(plan: dict[str, Any]) -> dict[str, Any]:
    """What of a plan can change a picture of it: what a camera rides on does not, nor what a screen
    is cut from, who stands there, that a plate was filmed, that a lens was never measured, how what
    is not placed in post would be, that nothing zooms, that a screen hangs to the ground, that a
    camera stands, or what a lock-off is called and has in other shots."""
    rest = {name: value for name, value in plan.items() if name not in GRIP and name != "beside"}
    called: dict[str, str] = {"": ""}
    if "shot" in rest:
        shot = _zooming(rest["shot"])
        rest["shot"] = {**shot, "views": [_zooming(view) for view in shot.get("views", [])]}
    lenses = [
        {name: value for name, value in lens.items() if name != "measured" or value}
        for lens in plan.get("lenses", [])
    ]
    plates = [
        {
            name: called.setdefault(value, chr(ord("A") + len(called) - 1))
            if name == "lock_group"
            else _drawn(name, value)
            for name, value in plate.items()
            if (name not in GRIP and (name not in SELDOM or value))
            and (plate.get("placed_in_post") or name not in OF_PLACING)
        }
        for plate in plan.get("plates", [])
    ]
    things = [
        {name: value for name, value in thing.items() if name != "person_id"}
        for thing in plan.get("stand_ins", [])
    ]
    return {**rest, "lenses": lenses, "plates": plates, "stand_ins": things}


def _zooming(view: dict[str, Any]) -> dict[str, Any]:
    """The decisions of a view, its zoom only where there is one."""
    return {name: v for name, v in view.items() if name != "move_zoom" or v != 1.0}


def _drawn(name: str, value: Any) -> Any:
    """A decision of a plate as far as pictures show it."""
    if name == "filmed":
        return None
    if name == "rig" and value:
        # Rigs are taken out of the picture, and their images with them.
        return {n: v for n, v in value.items() if n != "shine_m"}
    return value


def stamp(plan: dict[str, Any]) -> str:
    """What tells a plan, its kit and the program from any other, as far as pictures show it."""
    return stamps([plan])[0]


def stamps(plans: Sequence[dict[str, Any]]) -> list[str]:
    """The same of many plans."""
    return answers.keys([shown(plan) for plan in plans], "developed")


def plate_of(shot: Shot, plate_id: uuid.UUID | None) -> Plate | None:
    """The plate of that id; None for the story. Refused where the shot has no such plate."""
    if plate_id is None:
        return None
    plate = shot.plates.filter(pk=plate_id).first()
    if plate is None:
        raise Refused("plate_id", "This shot has no such plate any more.")
    return plate


@dataclass(frozen=True)
class Subject:
    """What a picture shows: a plate, or without one the story of a view (None: the first camera's),
    at a frame from 1; the plate as planned or with a change; all of the picture, or only a place
    `at` parts of it."""

    plate: Plate | None
    view_id: uuid.UUID | None
    frame: int
    change: Change = field(default_factory=Change)
    at: tuple[float, float] | None = None


def picture_of(whole: core.Shot, subject: Subject, width: int, tell: Tell) -> Picture:
    """The picture of a plan's frame; the last where the shot is shorter."""
    plate, view = None, None if subject.view_id is None else str(subject.view_id)
    if subject.plate is not None:
        plate = next(p for p in whole.plates if p.id == str(subject.plate.pk))
        view = plate.view_id
    own = in_view(whole, view)
    part = part_at(own, subject.frame)
    if plate is None or subject.at is None:
        return develop(own, plate, part, width, tell=tell)
    # What compresses is large, and a web process that names a picture never needs it.
    from jungoptic.media.compressed import compressed

    def card(frames: Iterator[NDArray[np.float32]], kept: Kept) -> NDArray[np.float32]:
        return compressed(frames, kept.bits_a_frame, kept.bits, kept.samples, kept.long_gop)

    size = width, round(width / own.delivery.aspect)
    return closely(own, plate, subject.at, card, part, size, tell=tell)


def keep(shot: Shot, subject: Subject, width: int, tell: Tell) -> Developed:
    """Develop a picture of the plan as it is stored, and keep it in the place of an older one."""
    plan, change = plan_json(shot), subject.change
    whole = load(plan) if subject.plate is None else changed(plan, str(subject.plate.pk), change)
    found = picture_of(whole, subject, width, tell)
    of = {
        "plate": subject.plate,
        "view_id": subject.view_id,
        "frame": subject.frame,
        "change_key": change.key,
    }
    made = Developed(
        shot=shot,
        **of,
        change=change.model_dump(mode="json") if change.key else {},
        width_px=found.pixels.shape[1],
        height_px=found.pixels.shape[0],
        stamp=stamp(plan),
        remarks=list(found.remarks),
        at=list(subject.at or ()),
    )
    made.picture = keep_picture(f"{FOLDER}/{made.pk}", found.pixels, exact=subject.at is not None)
    with transaction.atomic():
        made.save()
        same = Developed.objects.filter(shot=shot, **of).exclude(pk=made.pk)
        # Of places looked at closely the newest stays.
        old = same.exclude(at=[]) if made.at else same.filter(at=[])
        every = Developed.objects.filter(shot=shot)
        plain = every.filter(change_key="")[MOST:]
        gone = [*old, *plain, *every.exclude(change_key="")[MOST_CHANGED:]]
        Developed.objects.filter(pk__in=[one.pk for one in gone]).delete()
        forget([one.picture for one in gone])
    return made


def moments_of(shot: Shot, view_id: uuid.UUID | None, count: int) -> list[int]:
    """So many frames (from 1) of a view, evenly from its first to its last; fewer where it has no
    more."""
    frames = in_view(load(plan_json(shot)), None if view_id is None else str(view_id)).frames
    return sorted({1 + round(i * (frames - 1) / (count - 1)) for i in range(count)})


def run(shot: Shot, view_id: uuid.UUID | None, frame: int, width: int, tell: Tell) -> DryRun:
    """Film all plates of a view of the plan as it is stored, put them together, and keep that."""
    plan = plan_json(shot)
    own = in_view(load(plan), None if view_id is None else str(view_id))
    found = dry_run.run(own, part_at(own, frame), width, tell=tell)
    made = DryRun(
        shot=shot,
        view_id=view_id,
        frame=frame,
        width_px=found.composite.shape[1],
        height_px=found.composite.shape[0],
        stamp=stamp(plan),
        hole=found.hole,
        things=[asdict(thing) for thing in found.things],
        remarks=list(found.remarks),
    )
    made.composite = keep_picture(f"{FOLDER}/{made.pk}-composite", found.composite)
    made.story = keep_picture(f"{FOLDER}/{made.pk}-story", found.story)
    keep_run(made)
    return made


def keep_run(made: DryRun) -> None:
    """Keep a dry run in the place of an older one of the same frame, or an older clip."""
    with transaction.atomic():
        made.save()
        own = DryRun.objects.filter(shot=made.shot, frame__isnull=made.frame is None)
        same = own.filter(view_id=made.view_id, frame=made.frame).exclude(pk=made.pk)
        most = MOST_CLIPS if made.frame is None else MOST_RUNS
        gone = {one.pk: one for one in [*same, *own[most:]]}
        DryRun.objects.filter(pk__in=list(gone)).delete()
        forget([name for one in gone.values() for name in (one.composite, one.story)])
