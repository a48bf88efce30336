"""Who stands where in which clothes, so that the same look is never seen near itself."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np
from scipy.optimize import linear_sum_assignment

from ...camera import Array
from ...plan.tricks import Crowd
from .places import CrowdPlace, Laid

#: What it costs to see again, a step of a tenth of the picture away: the same person in the same
#: clothes and pose; in the same clothes; in the same pose; in neither (judgement).
SAME, CLOTHES, POSE, FACE = 12.0, 6.0, 2.5, 1.0
#: Somebody else in the same clothes and pose.
OTHERS = 0.2


@dataclass(frozen=True)
class CrowdLook:
    """One person of the crowd: place, person, clothes and pose by number from 0."""

    place: int
    person: int
    wardrobe: int
    pose: int


@dataclass(frozen=True)
class Looks:
    """Everybody's look. `repeats` are pairs of exactly the same look; `nearest_px` the least
    distance between two of them; `again_px` between any two of one person; `cost` what the
    assignment leaves."""

    looks: tuple[CrowdLook, ...]
    repeats: int
    nearest_px: float | None
    again_px: float | None
    changes: int
    cost: float


def costs(
    places: list[CrowdPlace],
    options: list[list[tuple[int, int, int]]],
    before: list[tuple[CrowdPlace, CrowdLook]],
    width_px: float,
) -> tuple[Array, np.ndarray]:
    """For every place and every person (columns) the least cost over what that person can be, and
    which option that is. A likeness costs the more the nearer it is, squared, so that one near
    repeat costs more than several far ones."""
    if not before:
        nothing = np.zeros((len(places), len(options)))
        return nothing, nothing.astype(int)
    here = np.array([p.foot_px for p in places])
    there = np.array([p.foot_px for p, _ in before])
    apart = np.hypot(*np.moveaxis(here[:, None, :] - there[None, :, :], -1, 0)) / width_px
    had = np.array([(x.person, x.wardrobe, x.pose) for _, x in before])
    same = np.array(options)[:, :, None, :] == had[None, None, :, :]
    person, clothes, pose = np.moveaxis(same, -1, 0)
    own = np.where(clothes, np.where(pose, SAME, CLOTHES), np.where(pose, POSE, FACE))
    like = np.where(person, own, np.where(clothes & pose, OTHERS, 0.0))
    table = np.einsum("pb,mob->pmo", 1.0 / (0.1 + apart) ** 2, like)
    return table.min(axis=2), table.argmin(axis=2)


def assign(laid: Laid, crowd: Crowd, width_px: float) -> Looks:
    """Looks for everybody, pass by pass: in each, the assignment of people to places that is best
    beside all passes before it. Clothes change only between passes, one change for all.

    Source: the linear assignment problem (Kuhn 1955), solved by `scipy`.
    """
    done: list[tuple[CrowdPlace, CrowdLook]] = []
    cost = 0.0
    changes = 0
    wardrobes = max(crowd.wardrobe, 1)
    for tile in laid.tiles:
        own = [(i, p) for i, p in enumerate(laid.places) if p.tile == tile.number]
        # Everybody changes together, so that nobody waits: the passes go round the wardrobe.
        worn = tile.number % wardrobes
        changes += int(tile.number > 0 and wardrobes > 1)
        # Where nothing else decides, neighbours and passes differ in pose.
        poses = max(crowd.poses, 1)
        options = [
            [(person, worn, (pose + person + tile.number) % poses) for pose in range(poses)]
            for person in range(crowd.people)
        ]
        table, which = costs([p for _, p in own], options, done, width_px)
        rows, columns = linear_sum_assignment(table)
        cost += float(table[rows, columns].sum())
        fresh = []
        for r, c in zip(rows, columns, strict=True):
            i, place = own[r]
            person, wardrobe, pose = options[c][which[r, c]]
            fresh.append((place, CrowdLook(i, person, wardrobe, pose)))
        done += fresh
    return _counted(done, changes, cost)


def _counted(done: list[tuple[CrowdPlace, CrowdLook]], changes: int, cost: float) -> Looks:
    same, again = [], []
    for (p, a), (q, b) in itertools.combinations(done, 2):
        if a.person != b.person:
            continue
        apart = float(np.hypot(p.foot_px[0] - q.foot_px[0], p.foot_px[1] - q.foot_px[1]))
        again.append(apart)
        if (a.wardrobe, a.pose) == (b.wardrobe, b.pose):
            same.append(apart)
    return Looks(
        tuple(look for _, look in done),
        len(same),
        min(same, default=None),
        min(again, default=None),
        changes,
        cost,
    )
