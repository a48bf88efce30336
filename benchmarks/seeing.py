"""What a camera shows of a shot, worked out for all rules, against a bare projection."""

from __future__ import annotations

import time
from collections.abc import Callable

from jungoptic.core.plan.standins import StandIn, StandInKind
from jungoptic.core.plan.story_time import StoryTime
from jungoptic.core.plan.world import Delivery, Move, WorldCamera
from jungoptic.core.stage import looking
from jungoptic.core.stage.looking import Look, seen
from jungoptic.core.stage.seen import Seen

from .timing import medians

DELIVERY = Delivery(1920, 1080, 24.0)
KINDS: tuple[StandInKind, ...] = ("figure", "box", "card")
SECONDS, ROUNDS = 4.0, 25


def measure() -> str:
    """The table as Markdown."""
    rows = []
    for count in (3, 10, 50, 200):
        for move in (Move(0.5, 1.0, 0.2, 10.0, 3.0), Move()):
            rows.append(_row(count, move))
    return (
        "## What the frame shows\n\n"
        f"Every thing at every one of {round(SECONDS * DELIVERY.fps)} frames: what of it is in the "
        "picture, how near, where, clipped at the picture's edges; one of them walks. Against a "
        "projection of the same points at the same frames and nothing else. Aim: 4 times at most. "
        "A camera that stands still looks once at what does not move, which the bare projection "
        "does not know.\n\n"
        "| things | camera | all that is seen, ms | bare projection, ms | ratio |\n"
        "| ---: | --- | ---: | ---: | ---: |\n" + "\n".join(rows)
    )


def _row(count: int, move: Move) -> str:
    camera = WorldCamera(24.9, 28.0, 1.6).camera(DELIVERY)
    time_of = StoryTime(SECONDS, round(SECONDS * DELIVERY.fps), 1.0, ())
    look, things = Look(camera, DELIVERY, move, time_of, 0.05), _things(count)

    def anew() -> Seen:
        looking._path.cache_clear()
        looking._part_kept.cache_clear()
        return seen(look, things)

    found = anew()
    assert found.mesh is not None
    points, path = found.mesh.points, found.path
    cases: dict[str, Callable[[], object]] = {
        "seen": anew,
        "bare": lambda: path.project(points, DELIVERY.width_px, DELIVERY.height_px),
    }
    took = medians(cases, ROUNDS, warm=3, clock=time.thread_time)
    ratio = took["seen"] / took["bare"]
    name = "stands still" if move.still else "moves"
    return (
        f"| {count} | {name} | {took['seen'] * 1000:.2f} | {took['bare'] * 1000:.2f} "
        f"| {ratio:.2f} |"
    )


def _things(count: int) -> tuple[StandIn, ...]:
    """Things in rows before the camera, the first of which walks."""
    return tuple(
        StandIn(
            f"s{i}",
            f"Thing {i}",
            KINDS[i % 3],
            (i % 20 - 10) * 0.7,
            4.0 + 0.3 * i,
            depth_m=0.4,
            speed_m_s=0.0 if i else 1.2,
        )
        for i in range(count)
    )
