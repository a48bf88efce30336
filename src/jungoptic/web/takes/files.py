"""What the files of a take say: readings that nobody has to type, and findings of their own."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterable
from contextlib import suppress
from typing import Any, NamedTuple

from pydantic import TypeAdapter

from jungoptic.core.board.seen import Seen
from jungoptic.core.cards.takes import Taken, judge_take
from jungoptic.core.filmed.ball import judge_balls
from jungoptic.core.filmed.board import Held, judge_board, judge_taped, readings_by_board
from jungoptic.core.filmed.file import judge_file, judge_typed, readings_of
from jungoptic.core.filmed.marks import judge_marks, readings_by_marks
from jungoptic.core.filmed.run import judge_ran
from jungoptic.core.frames.asked import carried as carried_by
from jungoptic.core.impossible import Impossible
from jungoptic.core.picked.seen import ByBall, ByEdges, ByMarks, PickedMark
from jungoptic.core.pictures.facts import Facts
from jungoptic.core.pictures.ran import Ran
from jungoptic.core.plan import Plate as CorePlate
from jungoptic.core.plan import Shot as CoreShot
from jungoptic.core.plan import seen_from_own
from jungoptic.core.plan.findings import Finding

from .. import documents, saving
from ..frames.sheets import fields_in, stored
from ..plans.bridge import load
from ..schemas import bounds_of
from .fields import READINGS, TakeFields
from .models import SetCard, Take

RAN, SEEN = TypeAdapter(Ran), TypeAdapter(Seen)
BY_MARKS, BY_EDGES = TypeAdapter(ByMarks), TypeAdapter(ByEdges)
BY_BALLS = TypeAdapter(tuple[ByBall, ...])
NAMES = {field.name for field in dataclasses.fields(Facts)}
#: What was recorded, read, and is not in the bin.
COUNTS = {"role": "recorded", "state": "read", "put_away": False}


def facts(picture: Any) -> Facts | None:
    """What a stored picture's file says of itself; None until it was read."""
    if picture.facts is None:
        return None
    found = documents.FACTS.read(picture.facts)
    lists = {name: tuple(found.get(name, ())) for name in ("missing", "remarks")}
    return Facts(**{n: v for n, v in found.items() if n in NAMES} | lists)


class Marked(NamedTuple):
    """Marks that were picked in a picture, and what they say of its camera."""

    names: list[str]
    by: ByMarks


class Read(NamedTuple):
    """A picture that counts: what its file says, what was measured frame by frame, the board that
    was held up in it, the marks that were picked in it, and the frame (from 1) in which somebody
    says that the shot begins."""

    facts: Facts
    ran: Ran | None
    held: Held | None
    marked: Marked | None
    begins: int | None = None


def ran(picture: Any) -> Ran | None:
    """What was measured of a stored picture frame by frame; None until it was."""
    if picture.ran is None:
        return None
    return RAN.validate_python(documents.RAN.read(picture.ran))


def board(picture: Any) -> Seen | None:
    """The board in a stored picture; None where there is none, or it was not looked for yet."""
    if picture.board is None:
        return None
    return SEEN.validate_python(documents.BOARD.read(picture.board)["seen"])


def picked_marks(picture: Any) -> tuple[PickedMark, ...]:
    """The marks that were picked in a stored picture."""
    return tuple(PickedMark(**one) for one in picture.marks)


def marked(picture: Any) -> Marked | None:
    """What the marks picked in a stored picture say; None without any, and until it was worked
    out."""
    stored = None if picture.picked is None else documents.PICKED.read(picture.picked)["marks"]
    if stored is None or not picture.marks:
        return None
    return Marked([one["name"] for one in picture.marks], BY_MARKS.validate_python(stored))


def edged(picture: Any) -> ByEdges | None:
    """What the edges traced in a stored picture say; None without any."""
    stored = None if picture.picked is None else documents.PICKED.read(picture.picked)["edges"]
    return None if stored is None else BY_EDGES.validate_python(stored)


def balled(picture: Any) -> tuple[ByBall, ...]:
    """What the balls traced in a stored picture say of the light, in their order; nothing until it
    was worked out."""
    stored = None if picture.picked is None else documents.PICKED.read(picture.picked)
    found = BY_BALLS.validate_python(stored["balls"]) if stored else ()
    return found if len(found) == len(picture.balls) else ()


def lit(picture: Any, shot: CoreShot, plate: CorePlate) -> list[Finding]:
    """What the balls in a picture say of the light of its plate. A picture that is there for
    reference counts: that is what a ball is held up for."""
    if not picture.balls or picture.state != COUNTS["state"] or picture.put_away:
        return []
    with suppress(Impossible):
        return judge_balls(shot, plate, balled(picture))
    return []


def called_in(picture: Any) -> str:
    """How the card is called whose board is in a stored picture."""
    return str(documents.BOARD.read(picture.board)["called"])


def advised_up_m(card: SetCard) -> float:
    """How far above the stage's ground a card has its board stand."""
    advised = card.shown["board"]
    return 0.0 if advised is None else float(advised["up_m"])


def held(picture: Any, card: SetCard | None) -> Held | None:
    """The board in a stored picture as it counts for a take of `card`; on a plate, `card` is that
    of the board, None where the production has none such."""
    seen = board(picture)
    if seen is None:
        return None
    own = (
        card is not None
        and seen.found.number == card.board
        and picture.plate_id in (None, card.plate_id)
    )
    other = seen.found.number is not None and not own
    return Held(
        seen,
        picture.board_way,
        100.0 if card is None else card.ruler_mm,
        called_in(picture) if other else "",
        picture.board_up_m,
        0.0 if card is None else advised_up_m(card),
    )


def read(picture: Any, card: SetCard | None) -> Read | None:
    """A picture as far as it counts for a take of `card`; None for one that was not recorded by its
    plate's camera, not read yet, or is in the bin."""
    if any(getattr(picture, n) != v for n, v in COUNTS.items()):
        return None
    found = facts(picture)
    if found is None:
        return None
    return Read(found, ran(picture), held(picture, card), marked(picture), picture.begins)


def counting(pictures: Iterable[Any], card: SetCard) -> list[Read]:
    """Those among the pictures of a take of `card` that count, oldest first."""
    ordered = sorted(pictures, key=lambda p: (p.created_at, p.pk))
    return [found for p in ordered if (found := read(p, card)) is not None]


def frozen(card: SetCard) -> tuple[CoreShot, CorePlate]:
    """The plan that a card froze: what the view of its plate shows, and the plate."""
    shot = load(card.frozen_plan)
    return seen_from_own(shot, shot.plates[0]), shot.plates[0]


def carried(shot: CoreShot, plate: CorePlate) -> bool:
    """Whether the sheet of a plate, as it is today, has its camera move though the story's stands:
    a hyperlapse, or a move that is only counted."""
    sheet = stored(plate.id) if shot.move.stands else None
    return sheet is not None and carried_by(shot, plate, fields_in(sheet).core())


def findings_of(
    shot: CoreShot,
    plate: CorePlate,
    files: Iterable[Read],
    moves: Callable[[CoreShot, CorePlate], bool] = carried,
) -> list[Finding]:
    """What the files of a take say against its plan; of several that say the same, the worst.
    `moves`: answers as `carried` does."""
    told: list[list[Finding]] = []
    files = list(files)
    walked = any(one.ran is not None for one in files) and moves(shot, plate)
    for one in files:
        try:
            found = judge_file(shot, plate, one.facts)
            if one.ran is not None:
                found += judge_ran(shot, plate, one.ran, one.facts.fps, walked, one.begins)
            if one.held is not None:
                found += judge_board(shot, plate, one.held)
            if one.marked is not None:
                found += judge_marks(shot, plate, *one.marked)
        except Impossible:
            continue
        told.append(found)
    return worst_of(told)


def worst_of(told: Iterable[list[Finding]]) -> list[Finding]:
    """Of several findings that say the same of several pictures the worst."""
    worst: dict[str, Finding] = {}
    for finding in (one for found in told for one in found):
        before = worst.get(finding.key)
        if before is None or finding.verdict.rank > before.verdict.rank:
            worst[finding.key] = finding
    return list(worst.values())


def told_by(
    take: Take, files: Iterable[Read], shot: CoreShot, plate: CorePlate
) -> dict[str, float]:
    """What the `files` of a take tell of its readings, by their names; the first that says it
    counts, and nothing that a take cannot hold."""
    bounds, planned = bounds_of(TakeFields), float(take.card.shown["planned"]["capture_fps"])
    told: dict[str, float] = {}
    for one in files:
        # The file itself says it best; a board is found more finely than a hand picks.
        ways: list[dict[str, float]] = [readings_of(one.facts, planned, shot.delivery.fps)]
        with suppress(Impossible):
            if one.held is not None:
                ways.append(readings_by_board(shot, plate, one.held))
            if one.marked is not None:
                ways.append(readings_by_marks(shot, plate, one.marked.by))
        found = {name: value for way in reversed(ways) for name, value in way.items()}
        for name, value in found.items():
            low, high = bounds[name]
            if low <= value <= high:
                told.setdefault(name, value)
    return told


def against_its_files(take: Take, shot: CoreShot, plate: CorePlate) -> list[Finding]:
    """What a take's files say against the plan that its card froze, and against what was typed."""
    pictures = list(take.pictures.all())
    files = counting(pictures, take.card)
    by_ball = worst_of([lit(picture, shot, plate) for picture in pictures])
    if not files:
        return by_ball
    typed = {name: getattr(take, name) for name in READINGS if name not in take.from_file}
    told = told_by(take, files, shot, plate)
    by_marks = all(one.held is None for one in files)
    return [
        *findings_of(shot, plate, files),
        *judge_typed(typed, told),
        *judge_taped(typed, told, by_marks),
        *by_ball,
    ]


def settle(user: Any, production: Any, take: Take) -> None:
    """Fill a take's open readings from its files, and empty those that came of a file which is
    gone. What a person read off stays; readings that no lens can have are left open."""
    fresh = Take.objects.select_related("card").select_for_update(of=("self",)).get(pk=take.pk)
    shot, plate = frozen(fresh.card)
    told = told_by(fresh, counting(fresh.pictures.all(), fresh.card), shot, plate)
    before = {name: getattr(fresh, name) for name in READINGS}
    kept: dict[str, Any] = {n: None if n in fresh.from_file else v for n, v in before.items()}
    filled = {n: v for n, v in told.items() if kept[n] is None}
    after = {**kept, **filled}
    try:
        judge_take(shot, plate, Taken(**after))
    except Impossible:
        filled, after = {}, kept
    if after == before and set(fresh.from_file) == set(filled):
        return
    for name in READINGS:
        setattr(fresh, name, after[name])
    fresh.from_file = sorted(filled)
    fresh.revision += 1
    fresh.save()
    changed = {n: v for n, v in after.items() if v != before[n]}
    was = {n: before[n] for n in changed}
    saving.write_down(user, production, fresh, "edited", before=was, after=changed)
