"""A process that looks: at pictures as they are taken, and through a simulated camera. It reads
questions from its standard input and answers on its standard output, one after another, and ends
when nobody has asked it anything for a while.

A question is its length (4 bytes, most significant first) and a pickle of (what, arguments); an
answer the length of a line of JSON (`head`, and the sizes of what follows), that line, then bytes.
"""

from __future__ import annotations

import contextlib
import dataclasses
import json
import logging
import pickle
import resource
import select
import struct
import sys
from collections.abc import Callable, Sequence
from functools import lru_cache
from pathlib import Path
from typing import Any, BinaryIO

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic_core import to_jsonable_python

from jungoptic.core.filmed.pair import delivered_per_px, judge_pair, pair_of
from jungoptic.core.filmed.rebuilt import put_back
from jungoptic.core.impossible import Impossible
from jungoptic.core.pictures.just_taken import Box
from jungoptic.core.pictures.laying import smaller
from jungoptic.core.pictures.run import small_size
from jungoptic.core.pictures.taking import just_taken
from jungoptic.core.pictures.tone import Picture, luma
from jungoptic.core.plan.plate import Plate
from jungoptic.core.plan.sheet import Sheet
from jungoptic.core.plan.shot import Shot
from jungoptic.media import stills
from jungoptic.media.kinds import Unreadable

from .faults import Faults
from .finder import Finder
from .table import posed

log = logging.getLogger(__name__)
#: It ends after so many seconds without a question, and may take so many bytes of memory.
PATIENCE_S, MEMORY = 600.0, 3 << 30
#: What is shown of a picture: so wide at most, and how good.
PROXY_PX, QUALITY = 960, 85
#: Two pictures are one shape up to this.
SHAPE = 0.01
#: Grey pictures and finders that are remembered.
REMEMBERED, FINDERS = 12, 4
#: How much the simulated table is mottled: what is painted has something to hold on to.
MOTTLED = 0.03
#: Plans whose simulated camera is asked for are no wider.
WIDEST_PX = 1920

#: Levels of eight bits, or 0..1.
Shown = NDArray[Any]
Answer = tuple[dict[str, Any], Sequence[bytes]]


def take_in(
    now: str, before: str | None, reference: str | None, moving: Sequence[Box] = ()
) -> Answer:
    """Read a picture (a path), measure it against two others, and make what is shown of it;
    `moving`: where things are posed."""
    path = Path(now)
    facts = stills.facts_of(path)
    shown = stills.small_levels(path, PROXY_PX)
    last, first = (None if p is None else _known(p) for p in (before, reference))
    problem = ""
    told = None
    try:
        told = just_taken(_grey(shown), last, first, moving)
    except Impossible as error:
        problem = str(error)
    head = {
        "width_px": facts.width_px,
        "height_px": facts.height_px,
        "codec": facts.codec,
        "shot_at": facts.shot_at,
        "told": None if told is None else dataclasses.asdict(told),
        "problem": problem,
    }
    return head, [_jpeg(shown, QUALITY)]


def see(
    shot: Shot,
    plate: Plate,
    sheet: Sheet,
    frame: int,
    width: int,
    seed: int,
    faults: Faults,
) -> Answer:
    """A frame of a plate through the simulated camera, as a JPEG file."""
    width = min(width, WIDEST_PX)
    finder = _finder(pickle.dumps((shot, plate, sheet, frame, width, faults)))
    finder.seed = seed
    return {}, [_jpeg(finder.still(frame), 92)]


def rebuilt(now: str, then: str, shot: Shot, plate: Plate) -> Answer:
    """A picture of a set that is built again against the one it is to continue: findings, and
    what to move."""
    first, second = (stills.small(Path(path), PROXY_PX) for path in (then, now))
    high, wide = (min(a, b) for a, b in zip(first.shape[:2], second.shape[:2], strict=True))
    shapes = [picture.shape[1] / picture.shape[0] for picture in (first, second)]
    if abs(shapes[0] / shapes[1] - 1.0) > SHAPE:
        raise Impossible(
            "The two pictures are not one shape: set the camera back to the mode it was in."
        )
    first, second = (smaller(picture, (wide, high)) for picture in (first, second))
    per_px = 1.0
    pair = pair_of(first, second)
    with contextlib.suppress(Impossible):
        per_px = delivered_per_px(shot, plate, pair.wide)
    try:
        moves = put_back(shot, plate, pair, per_px)
    except Impossible:
        moves = []
    head = {"findings": judge_pair(pair, per_px), "moves": moves}
    return to_jsonable_python(head, inf_nan_mode="null"), []


@lru_cache(maxsize=FINDERS)
def _finder(plan: bytes) -> Finder:
    """The finder that looks at a pickled plan, its sheet carried out."""
    shot, plate, sheet, frame, width, faults = pickle.loads(plan)
    return Finder(posed(shot, plate, sheet, frame), plate, width, 0, faults, MOTTLED)


def _known(path: str) -> Picture:
    """A picture that lies there, small and grey. What is fetched from elsewhere may come under a
    name that another had before."""
    return _remembered(path, Path(path).stat().st_mtime_ns)


@lru_cache(maxsize=REMEMBERED)
def _remembered(path: str, written: int) -> Picture:
    return _grey(stills.small_levels(Path(path), PROXY_PX))


def _grey(shown: Shown) -> Picture:
    """Brightness of levels or of 0..1, small, 0..1."""
    most = 255.0 if shown.dtype == np.uint8 else 1.0
    whole = luma(shown.astype(np.float32, copy=False))
    return smaller(whole, small_size(shown.shape[1], shown.shape[0])) / np.float32(most)


def _jpeg(picture: Shown, quality: int) -> bytes:
    levels = (
        picture
        if picture.dtype == np.uint8
        else (np.clip(picture, 0.0, 1.0) * np.float32(255.0) + np.float32(0.5)).astype(np.uint8)
    )
    pixels = cv2.cvtColor(levels, cv2.COLOR_RGB2BGR)
    done, data = cv2.imencode(".jpg", pixels, [cv2.IMWRITE_JPEG_QUALITY, quality])
    assert done
    return bytes(data)


def _answered(what: str, arguments: tuple[Any, ...]) -> Answer:
    asked: dict[str, Callable[..., Answer]] = {
        "take_in": take_in,
        "see": see,
        "rebuilt": rebuilt,
    }
    try:
        return asked[what](*arguments)
    except (Unreadable, Impossible) as error:
        return {"refused": str(error)}, []
    except MemoryError:
        return {"refused": "The picture takes more memory to read than it may."}, []
    except Exception:
        log.exception("the eye failed: %s", what)
        return {"failed": True}, []


def serve(source: BinaryIO, out: BinaryIO) -> None:
    """Answer what is asked until nothing more comes."""
    while select.select([source], [], [], PATIENCE_S)[0]:
        length = source.read(4)
        if len(length) < 4:
            return
        what, arguments = pickle.loads(source.read(struct.unpack(">I", length)[0]))
        head, blobs = _answered(what, arguments)
        line = json.dumps({"head": head, "sizes": [len(b) for b in blobs]}).encode()
        out.write(struct.pack(">I", len(line)) + line + b"".join(blobs))
        out.flush()


def main() -> int:
    """Serve whoever started it."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    # Nobody is helped by many threads for one small picture.
    cv2.setNumThreads(1)
    serve(sys.stdin.buffer, sys.stdout.buffer)
    return 0


if __name__ == "__main__":
    sys.exit(main())
