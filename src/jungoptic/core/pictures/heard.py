"""What is heard in a clip: sounds that begin, and among them claps. Sound comes in pieces and is
let go: a thousand numbers a second stay.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Sound = NDArray[np.float32]
#: Loudness is told of so many pieces a second.
PIECES = 1000
#: What is around a moment is told by as much before it, in steps of so many pieces.
BEFORE_S, STEP = 0.2, 20
#: Silence, and the least that a sound stands above what was before it to have begun; as much above
#: it is a sharp one; decibels (judgement).
SILENT_DB, BEGINS_DB, SHARP_DB = -100.0, 12.0, 20.0
#: A clap is at its loudest within so long, and has lost ten decibels within as long (judgement, by
#: boards and hands in rooms).
ATTACK_S, FALLS_S = 0.012, 0.08
#: What follows within this belongs to the sound before: rooms answer.
TOGETHER_S = 0.1
#: As sharp as the loudest is what comes within this of it, decibels.
ALIKE_DB = 8.0
#: Two claps of one take lie at least so far apart, seconds.
APART_S = 1.0
#: At most so many are kept: sharp ones, the loudest; beginnings, the first.
MOST_SHARP, MOST_BEGIN = 40, 2000


@dataclass(frozen=True)
class SharpSound:
    """A sharp sound: when it begins, seconds from the first picture; how loud it is, decibels under
    the most that a recording holds, and by how many it stands above what was before."""

    at_s: float
    db: float
    above_db: float


@dataclass(frozen=True)
class Heard:
    """What is heard in a clip: its sharp sounds in order, and when sounds begin, seconds from the
    first picture."""

    sharp: tuple[SharpSound, ...]
    begin_s: tuple[float, ...]

    @property
    def claps(self) -> tuple[SharpSound, ...]:
        """What can have been the board: the first sharp sound among those as loud as the loudest,
        and the last of them where that is another. Empty where none is sharp."""
        alike = self.as_sharp
        if not alike:
            return ()
        first, last = alike[0], alike[-1]
        return (first, last) if last.at_s - first.at_s >= APART_S else (first,)

    @property
    def as_sharp(self) -> tuple[SharpSound, ...]:
        """All sharp sounds that are about as loud as the loudest of them."""
        most = max((one.db for one in self.sharp), default=0.0)
        return tuple(one for one in self.sharp if one.db >= most - ALIKE_DB)


class Hearing:
    """Takes sound piece after piece; `done` tells what was heard. `rate_hz`: samples a second;
    `starts_s`: when the sound begins, seconds from the first picture."""

    def __init__(self, rate_hz: int, starts_s: float = 0.0) -> None:
        self._starts_s = starts_s
        self._rate_hz = rate_hz
        self._each = max(rate_hz // PIECES, 1)
        self._left: Sound = np.zeros(0, np.float32)
        self._parts: list[Sound] = []

    def take(self, sound: Sound) -> None:
        """The next samples (n,), -1..1."""
        whole = np.concatenate([self._left, sound.astype(np.float32)])
        count = len(whole) // self._each
        full = whole[: count * self._each].reshape(count, self._each)
        self._left = whole[count * self._each :]
        self._parts.append(np.sqrt(np.mean(full.astype(np.float32) ** 2, axis=1)))

    @property
    def loud_db(self) -> Sound:
        """Loudness (n,) in pieces of a thousandth of a second, decibels under the most."""
        rms = np.concatenate([np.zeros(0, np.float32), *self._parts])
        least = np.float32(10.0 ** (SILENT_DB / 20.0))
        found: Sound = np.float32(20.0) * np.log10(np.maximum(rms, least))
        return found

    def seconds(self, piece: float) -> float:
        """When a piece begins, seconds from the first picture."""
        return self._starts_s + piece * self._each / self._rate_hz

    def done(self) -> Heard:
        """What all of it together is."""
        loud = self.loud_db
        begins = _beginnings(loud)
        sharp = [found for at in begins if (found := self._sharp(loud, at)) is not None]
        loudest = sorted(sharp, key=lambda one: -one.db)[:MOST_SHARP]
        return Heard(
            tuple(sorted(loudest, key=lambda one: one.at_s)),
            tuple(round(self.seconds(at), 4) for at in begins[:MOST_BEGIN]),
        )

    def _sharp(self, loud: Sound, at: int) -> SharpSound | None:
        after = loud[at : at + round((ATTACK_S + FALLS_S) * PIECES)]
        peak = int(np.argmax(after))
        most = float(after[peak])
        above = most - _before(loud, at)
        fallen = np.flatnonzero(after[peak:] <= most - 10.0)
        soon = len(fallen) > 0 and fallen[0] <= FALLS_S * PIECES
        if above < SHARP_DB or peak > ATTACK_S * PIECES or not soon:
            return None
        return SharpSound(round(self.seconds(at), 4), round(most, 2), round(above, 2))


def _before(loud: Sound, at: int) -> float:
    """How loud it was before a moment."""
    told = loud[max(at - round(BEFORE_S * PIECES), 0) : at]
    return float(np.median(told)) if len(told) else SILENT_DB


def _beginnings(loud: Sound) -> list[int]:
    """The pieces at which a sound begins: it stands above all that was just before."""
    steps = len(loud) // STEP
    if steps < 2:
        return []
    level = np.median(loud[: steps * STEP].reshape(steps, STEP), axis=1)
    many = max(round(BEFORE_S * PIECES / STEP), 1)
    # Of each step: what the steps before it usually were.
    padded = np.concatenate([np.full(many, level[0]), level])
    usual = np.median(np.lib.stride_tricks.sliding_window_view(padded, many)[:steps], axis=1)
    around = np.repeat(usual, STEP)
    above = loud[: len(around)] - around > BEGINS_DB
    found: list[int] = []
    last = -PIECES
    for at in np.flatnonzero(above):
        # What goes on belongs to what began.
        if at - last > TOGETHER_S * PIECES:
            found.append(int(at))
        last = int(at)
    return found
