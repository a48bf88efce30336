"""A board found in a picture.

Source: Garrido-Jurado et al. 2014 (square markers with cells), as OpenCV has it; the corners
between squares are found to a few hundredths of a pixel.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any, Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from ..pictures.tone import LUMA
from . import paper
from .number import FIRST, TIMES, Code, code_of
from .seen import Found

Grey = NDArray[np.uint8]
#: The least corners that a board is told by: fewer may lie in one line.
LEAST = 6
#: A marker is at least so long around, pixels.
AROUND_PX = 20.0
#: Boards flat on the floor are seen at a slant; a picture stretched so in height shows them nearer
#: to square.
STRETCHED = 3
#: A picture larger than this on a side is looked at smaller; one smaller than the second is looked
#: at larger too.
LARGE_PX, SMALL_PX = 4608, 2400
#: How a board is looked for: as the picture is, stretched for one that lies on the floor, and
#: larger. The second and third take several times as long.
Look = Literal["plain", "flat", "larger"]


def find(grey: Grey, looks: Sequence[Look] = ("plain", "flat", "larger")) -> Found | None:
    """The board in a picture (h, w); None where there is none to be seen."""
    high, wide = grey.shape
    part = min(LARGE_PX / max(high, wide), 1.0)
    sizes = {"plain": (part, part), "flat": (part, part * STRETCHED), "larger": (2.0, 2.0)}
    best: Found | None = None
    for look in looks:
        if look == "larger" and max(high, wide) > SMALL_PX:
            continue
        across, down = sizes[look]
        found = _found(_resized(grey, across, down), across, down, wide, high)
        if found is not None and (best is None or worth(found) > worth(best)):
            best = found
        if best is not None and best.number is not None and len(best.corners) == len(_CORNERS):
            break
    return best


def worth(found: Found) -> tuple[bool, int]:
    """Of two pictures of a board the one that tells more is the greater by this."""
    return found.number is not None, len(found.corners)


_CORNERS = paper.corners_mm()


def _resized(grey: Grey, across: float, down: float) -> Grey:
    if across == down == 1.0:
        return grey
    size = max(round(grey.shape[1] * across), 1), max(round(grey.shape[0] * down), 1)
    way = cv2.INTER_AREA if max(across, down) < 1.0 else cv2.INTER_CUBIC
    return np.asarray(cv2.resize(grey, size, interpolation=way), dtype=np.uint8)


def _detectors(size: tuple[int, int]) -> tuple[Any, Any]:
    """(what finds markers, what finds the corners of the grid by them)."""
    words = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_1000)
    asked = cv2.aruco.DetectorParameters()
    # The usual least size hides small markers in large pictures.
    asked.minMarkerPerimeterRate = AROUND_PX / max(size)
    grid = cv2.aruco.CharucoBoard(paper.SQUARES, paper.SQUARE_MM, paper.MARKER_MM, words)
    return (
        cv2.aruco.ArucoDetector(words, asked),
        cv2.aruco.CharucoDetector(grid, cv2.aruco.CharucoParameters(), asked),
    )


def _found(grey: Grey, across: float, down: float, wide: int, high: int) -> Found | None:
    single, grid = _detectors(grey.shape)
    markers, ids, _ = single.detectMarkers(grey)
    if ids is None:
        return None
    ids = ids.ravel()
    mine = [i for i, one in enumerate(ids) if one < FIRST]
    if len(mine) < 2:
        return None
    corners, numbers, _, _ = grid.detectBoard(
        grey, markerCorners=[markers[i] for i in mine], markerIds=ids[mine].reshape(-1, 1)
    )
    if numbers is None or len(numbers) < LEAST:
        return None
    # Pixels count from the picture's corner here, from the middle of the first one there.
    size = np.array([across, down])
    order = np.argsort(numbers.ravel())
    numbers = numbers.ravel()[order]
    places = (corners.reshape(-1, 2)[order].astype(np.float64) + 0.5) / size
    laid: Any = cv2.findHomography(_CORNERS[numbers], places)[0]
    if laid is None or not np.isfinite(laid).all():
        return None
    others = [
        (int(one), (m.reshape(-1, 2).mean(axis=0) + 0.5) / size)
        for one, m in zip(ids, markers, strict=True)
        if one >= FIRST
    ]
    code = _code(laid, others)
    outline = _through(laid, paper.ENDS_MM)
    return Found(
        number=None if code is None else code.number,
        paper="A4" if code is None else code.paper,
        corners=tuple(int(n) for n in numbers),
        places=tuple((round(float(x), 4), round(float(y), 4)) for x, y in places),
        outline=tuple((round(float(x), 1), round(float(y), 1)) for x, y in outline),
        width_px=wide,
        height_px=high,
        px_per_mm=_scale(laid) / TIMES["A4" if code is None else code.paper],
    )


def _through(laid: Any, places_mm: NDArray[np.float64]) -> NDArray[np.float64]:
    found = cv2.perspectiveTransform(places_mm[:, None, :], laid)[:, 0]
    return np.asarray(found, dtype=np.float64)


def _code(laid: Any, others: Sequence[tuple[int, NDArray[np.float64]]]) -> Code | None:
    """The number, from the markers that lie where its own must lie: other markers of the set may be
    in the picture too, and one marker may stand at two places of a number."""
    middles = _through(laid, paper.number_middles_mm())
    reach = 0.25 * float(np.linalg.norm(middles[1] - middles[0]))
    there = []
    for middle in middles:
        near = [
            (float(np.linalg.norm(place - middle)), one)
            for one, place in others
            if np.linalg.norm(place - middle) < reach
        ]
        if not near:
            return None
        there.append(min(near)[1])
    return code_of(there)


def _scale(laid: Any) -> float:
    """Pixels for a millimetre of the A4 drawing along the longer way of a square in the middle."""
    middle = np.array([[paper.WIDE_MM / 2.0, paper.GRID_MM[1] + 2.5 * paper.SQUARE_MM]])
    ends = middle + np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]])
    at = _through(laid, ends)
    return float(max(np.linalg.norm(at[1] - at[0]), np.linalg.norm(at[2] - at[0])))


def grey_of(picture: NDArray[Any]) -> Grey:
    """A picture (h, w) or (h, w, 3), 0..1 or eight bits, as what markers are found in."""
    picture = picture[..., :3] @ LUMA if picture.ndim == 3 else picture.astype(np.float32)
    scaled = picture if picture.max(initial=0.0) > 1.5 else picture * np.float32(255.0)
    found: Grey = np.clip(scaled + 0.5, 0.0, 255.0).astype(np.uint8)
    return found


def frames_to_scan(frames: int, fps: float | None) -> Iterator[int]:
    """The frames (from 1, rising) of a clip or a sequence where a board may be held up: every fifth
    of the first and of the last two seconds; of a sequence without a rate the first and last
    few."""
    if fps is None:
        few = min(3, frames)
        yield from sorted({*range(1, few + 1), *range(frames - few + 1, frames + 1)})
        return
    long, step = max(round(2.0 * fps), 1), max(round(fps / 5.0), 1)
    first = range(1, min(long, frames) + 1, step)
    last = range(frames, max(frames - long, 0), -step)
    yield from sorted({*first, *last})
