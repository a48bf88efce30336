"""Does anything owned hold the camera as high, turn it and carry it as far as this stage asks?"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from ..plan.findings import Finding, Quantity, Working
from ..plan.grip import Support
from ..plan.plate import BUILT, Plate
from ..plan.shot import Shot
from ..stage.case import Case
from ..stage.support import (
    Asked,
    Holding,
    along_m,
    asked_of,
    below_pupil_m,
    holdings,
    rises_m,
)
from ..stage.turning import TURNS
from ..words.quantities import length, scale
from .limits import SUPPORT_LAID_M, SUPPORT_NEARLY_M, SUPPORT_RAISED_M
from .numbers import asked
from .rule import Measured, Number, Numbers, Rule, ranked, verdict_of
from .way import Way

#: A set is not raised higher than this (judgement).
MOST_TABLE_M = 1.2
#: A camera slid by no more than this has not been slid (judgement).
SLID_NEARLY_MM = 0.5


class Best(NamedTuple):
    """The support that holds a stage's camera best and how; None where none is there, or where it
    `lies` on the ground."""

    asks: Asked
    holding: Holding | None
    lies: bool = False


def asks_nothing(shot: Shot, plate: Plate) -> bool:
    """Whether nothing is asked of a support: nothing is owned, nothing is filmed by a camera that
    stands upright, or what it stands on below the stage's ground is not known."""
    return (
        not shot.kit.supports
        or plate.kind == "still"
        or plate.mirror
        or (plate.drop_m > 0.0 and plate.table_m is None)
    )


def choosable(shot: Shot, plate: Plate) -> list[Support]:
    """The support that the plate names, or else everything owned that is there on its day."""
    named = shot.kit.support(plate.support_id)
    if named is not None:
        return [named]
    return list(shot.kit.there(shot.kit.supports, plate.film_on))


def best(case: Case) -> Best | None:
    """What holds the camera of a stage best; None where nothing is asked."""
    if asks_nothing(case.shot, case.plate):
        return None
    return case.once("support", lambda: _best(case))


def _best(case: Case) -> Best:
    shot, plate, asks = case.shot, case.plate, asked_of(case)
    if plate.support_id is None and bool(laid(shot, plate, asks)):
        return Best(asks, None, lies=True)
    found = [h for s in choosable(shot, plate) for h in holdings(shot, plate, asks, s)]
    return Best(asks, min(found, key=_order, default=None))


def _order(holding: Holding) -> tuple[float, int, float]:
    lacks = (holding.low_m, holding.high_m, holding.along_m, holding.rise_m)
    rigs = (holding.along is not None) + (holding.lift is not None)
    return float(rank_of(holding)), rigs, sum(max(float(x), 0.0) for x in lacks if x < math.inf)


def laid(shot: Shot, plate: Plate, asks: Asked) -> Number:
    """Whether the camera lies on the ground or the floor, so that nothing need hold it."""
    move, table = shot.move, plate.table_m or 0.0
    if not move.stands or plate.slide_mm:
        return np.zeros_like(np.asarray(asks.base_m), dtype=bool)
    return (np.abs(asks.base_m) <= SUPPORT_LAID_M) | (np.abs(asks.base_m + table) <= SUPPORT_LAID_M)


def rank_of(holding: Holding) -> Number:
    """A camera that is too low for its support lies on boxes; one a little too high has its support
    on a platform. What does not carry, raise or turn it as the shot goes is no support for it."""
    near = SUPPORT_NEARLY_M
    ranks = np.maximum(
        ranked(holding.high_m, near, SUPPORT_RAISED_M), ranked(holding.low_m, near, math.inf)
    )
    ranks = np.maximum(ranks, ranked(holding.along_m, near, near))
    ranks = np.maximum(ranks, ranked(holding.rise_m, near, near))
    if not holding.turn or holding.slid_mm > SLID_NEARLY_MM:
        ranks = np.maximum(ranks, 2)
    return ranks


def judge_support(case: Case) -> Finding | None:
    """What holds the camera, and what it lacks; None where nothing is asked of it."""
    found = best(case)
    if found is None:
        return None
    measured = asked(measure, case)
    assert measured is not None
    verdict = verdict_of(measured)
    if found.holding is None and not found.lies:
        day = case.plate.film_on
        on = "" if day is None else f" on {day:%-d %B}"
        return RULE.finding(verdict, f"No support is there{on}: all of them are lent.")
    if found.holding is None:
        raised = case.plate.table_m is not None and abs(found.asks.base_m) <= SUPPORT_LAID_M
        where = "table" if raised else "floor"
        return RULE.finding(verdict, f"The camera lies on the {where}: a bag or a board holds it.")
    holding = found.holding
    lacks = lacking(case, holding, found.asks)
    if not lacks:
        said = f"{holding.support.name}: {_holds(case, holding, found.asks)}."
    else:
        said = f"{holding.support.name}: {'; '.join(lacks)}."
        if case.shot.kit.support(case.plate.support_id) is None:
            said = f"Nothing owned holds this camera as it is; nearest is the {said}"
    return RULE.finding(verdict, said, (_working(case, holding, found.asks),))


def _holds(case: Case, holding: Holding, asks: Asked) -> str:
    support = holding.support
    said = (
        f"holds the camera's base {length(float(holding.plate_m))} above the {holding.on}; "
        f"it goes from {length(support.lowest_mm / 1000.0)} to {length(support.highest_mm / 1000)}"
    )
    if asks.along_m > SUPPORT_NEARLY_M:
        way = "carries it" if holding.along is None else f"the {holding.along.name} carries it"
        said += f"; {way} {length(asks.along_m)}"
    if abs(asks.rises_m) > SUPPORT_NEARLY_M:
        way = "raises" if asks.rises_m > 0.0 else "lowers"
        by = "" if holding.lift is None else f"the {holding.lift.name} "
        said += f"; {by}{way} it {length(abs(asks.rises_m))}"
    return said


def lacking(case: Case, holding: Holding, asks: Asked) -> list[str]:
    """What a support does not give, in words."""
    found, near = [], SUPPORT_NEARLY_M
    high, low = float(holding.high_m), float(holding.low_m)
    if high > near or low > near:
        at = float(holding.plate_m)
        moves = asks.rises_m > 0.0 if high > near else asks.rises_m < 0.0
        if moves and (high <= near or holding.support.lifts):
            at += asks.rises_m
        over = f"{length(max(at, 0.0))} above the {holding.on}"
        by = f"{length(high)} higher" if high > near else f"{length(low)} lower"
        told = f"the camera's base is to be {over}, {by} than it goes"
        if high <= near:
            told += ": bed the camera on boxes or a sandbag instead"
        elif high <= SUPPORT_RAISED_M:
            told += ": stand it on a firm platform and weigh it down"
        found.append(told)
    for lack, way, goes, stays in (
        (holding.along_m, asks.along_m, "goes {} level", "stays where it stands"),
        (holding.rise_m, abs(asks.rises_m), "rises {}", "stays as high as it is set"),
    ):
        if lack > near:
            carries = way - float(lack)
            does = stays if carries <= near else f"carries it {length(carries)}"
            word = goes.replace("rises", "sinks") if asks.rises_m < 0.0 else goes
            found.append(f"the camera {word.format(length(way))} in the take, and it {does}")
    if not holding.turn:
        turns, wanted = holding.support.turns_about, TURNS[case.plate.turns_about]
        found.append(
            "it has no head that turns, and the camera pans or tilts"
            if turns is None
            else f"its head turns about the {TURNS[turns]}, and this camera is to turn about its "
            f"{wanted}"
        )
    if holding.slid_mm > SLID_NEARLY_MM:
        lets = holding.support.slide_mm
        does = f"lets it go {length(lets / 1000.0)}" if lets else "does not let it"
        found.append(
            f"the camera is to be slid {length(abs(case.plate.slide_mm) / 1000.0)} on it, which it "
            f"{does}"
        )
    return found


def _working(case: Case, holding: Holding, asks: Asked) -> Working:
    stage, support = case.stage, holding.support
    return Working(
        formula="base = axis at the pupil − a sin(tilt) − h cos(tilt), above the stage's ground;  "
        "held when lowest ≤ base ≤ highest, along ≤ travel",
        inputs=(
            Quantity("axis", "axis at the entrance pupil", stage.axis_m, "m"),
            Quantity("h", "base to axis", case.choice.body.axis_height_mm, "mm"),
            Quantity("tilt", "tilt as the shot begins", stage.tilt_deg, "°"),
            Quantity("ground", "what it stands on, from the stage's ground", holding.raised_m, "m"),
            Quantity("low", "lowest that it goes", support.lowest_mm, "mm"),
            Quantity("high", "highest that it goes", support.highest_mm, "mm"),
            Quantity("way", "the camera goes level", asks.along_m, "m"),
            Quantity("rise", "and up", asks.rises_m, "m"),
        ),
        result=Quantity("base", "camera's base above what it stands on", holding.plate_m, "m"),
        source="Rotation about the level axis; moves divide by the scale (similar triangles). How "
        "much a platform adds safely is a judgement.",
    )


def _ways(case: Case) -> list[Way]:
    found, plate = best(case), case.plate
    if found is None or found.holding is None:
        return []
    holding, ways = found.holding, []
    kit = case.shot.kit
    for support in kit.there(kit.supports, plate.film_on):
        if support.id != plate.support_id:
            ways.append(Way(f"Put it on the {support.name}.", {"support_id": support.id}))
    ways += _tables(plate, holdings(case.shot, plate, found.asks, holding.support)[0])
    if not holding.turn and holding.support.turns_about is not None:
        about = holding.support.turns_about
        ways.append(Way(f"Turn it about its {TURNS[about]}.", {"turns_about": about}))
    for lack, way in ((holding.along_m, found.asks.along_m), (holding.rise_m, found.asks.rises_m)):
        carries = abs(way) - float(lack)
        if lack > SUPPORT_NEARLY_M and carries > 0.0 and plate.kind in BUILT:
            smaller = float(math.ceil(plate.scale * abs(way) / carries))
            ways.append(
                Way(
                    f"Build it smaller, at {scale(smaller)}: its move is as much shorter.",
                    {"scale": smaller},
                )
            )
    return ways


def _tables(plate: Plate, beside: Holding) -> list[Way]:
    """Tables at which a support that stands on the floor holds the camera."""
    table, high, low = plate.table_m, float(beside.high_m), float(beside.low_m)
    if table is not None and SUPPORT_NEARLY_M < high < table:
        lower = math.floor((table - high) * 100.0) / 100.0
        return [Way(f"Lower the table to {length(lower)}.", {"table_m": lower})]
    if low > SUPPORT_NEARLY_M and plate.kind in BUILT:
        higher = math.ceil(((table or 0.0) + low) * 100.0) / 100.0
        word = "Raise the table to" if table is not None else "Put the set on a table of"
        if higher <= MOST_TABLE_M:
            return [Way(f"{word} {length(higher)}.", {"table_m": higher})]
    return []


def measure(n: Numbers) -> Measured | None:
    """How well the best support owned holds the camera, and the most that it lacks, metres; None
    where nothing is asked."""
    shot, plate = n.shot, n.plate
    if asks_nothing(shot, plate):
        return None
    tilt = shot.world.tilt_deg if plate.tilt_deg is None else plate.tilt_deg
    socket = n.of_setup("socket", lambda s: (s.body.socket_mm or 0.0) / 1000.0)
    over = n.of_setup("base to axis", lambda s: s.body.axis_height_mm / 1000.0)
    below = below_pupil_m(tilt, n.sensor_to_pupil_m - socket, over)
    asks = Asked(
        n.of_place("pupil up", lambda case: case.stage.axis_m) - below,
        n.of_place("rises", rises_m),
        n.of_place("goes level", along_m),
    )
    ranks: Number = 2.0
    short: Number = math.inf
    for support in choosable(shot, plate):
        for one in holdings(shot, plate, asks, support):
            rank = rank_of(one)
            worst = np.maximum(
                np.maximum(one.low_m, one.high_m), np.maximum(one.along_m, one.rise_m)
            )
            better = (rank < ranks) | ((rank == ranks) & (worst < short))
            ranks, short = np.where(better, rank, ranks), np.where(better, worst, short)
    if plate.support_id is None:
        ranks = np.where(laid(shot, plate, asks), 0, ranks)
    return Measured(ranks, short)


def takes(case: Case, short: float) -> tuple[str, str] | None:
    """A support that goes as high or low, or carries as far."""
    found = best(case)
    if found is None or found.holding is None:
        return None
    holding, asks, near = found.holding, found.asks, SUPPORT_NEARLY_M
    if holding.along_m > near:
        return f"A slider or dolly that carries it {length(asks.along_m)}.", "no such travel"
    if holding.rise_m > near:
        return f"A jib or column that moves it {length(abs(asks.rises_m))}.", "no such lift"
    if not holding.turn:
        return f"A head that turns about the {TURNS[case.plate.turns_about]}.", "no such head"
    if holding.slid_mm > SLID_NEARLY_MM:
        return f"A rail of {length(abs(case.plate.slide_mm) / 1000.0)} under the camera.", "no rail"
    if holding.high_m > near:
        at = float(holding.high_m) + holding.support.highest_mm / 1000.0
        return f"A support that goes up to {length(at)}.", f"{length(float(holding.high_m))} more"
    at = holding.support.lowest_mm / 1000.0 - float(holding.low_m)
    return f"A support that goes down to {length(max(at, 0.0))}.", "too low for those owned"


RULE = Rule(
    key="support",
    title="Camera support",
    name="camera support",
    speak=judge_support,
    ways=_ways,
    axes=frozenset({"setup", "scale"}),
    measure=measure,
    takes=takes,
)
