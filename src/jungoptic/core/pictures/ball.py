"""Light read off a ball that was held up where the action is: a chrome one shows the lamps
themselves, a grey one how light falls off around it.

Source: the mirror ball as an angular map of all around it (Debevec 1998), the law of reflection;
a matt sphere under light from far away, Lambert's law. Directions are told in the camera's own
axes: right, down, ahead.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import ArrayLike
from scipy.optimize import least_squares

from ..camera import Array
from ..impossible import Impossible
from .lit import Direction, Light
from .tone import CLIPPED, Flags, Picture, as_picture, luma, to_light

#: A hand traces a circle no better than this, a part of the picture's width: the error of nine in
#: ten (judgement; a little over a pixel of what is looked at).
TRACED = 1.25 / 1920.0
#: Fewer pixels than this across say nothing.
LEAST_PX = 24.0
#: What is used of a ball, parts of its radius: its rim is another colour's by half.
MIRRORED, MATT = 0.985, 0.93
#: A light that stands farther than this from the camera's side of a ball shows too near its rim.
MOST_DEG = 140.0
#: A light is where a ball is this much brighter than it mostly is, and has this part of what the
#: brightest gives; its edge is where it has half its own brightness (judgement).
STANDS_OUT, LEAST_SHARE, EDGE = 4.0, 1.0 / 64.0, 0.5
#: The most lights that are told of one ball, and the fewest pixels across that have a size. Beside
#: the brightest, what is wider than this is a wall or a floor that gives light back, degrees.
MOST, SIZED_PX, WIDEST_DEG = 4, 3.0, 60.0
#: Pixels of a matt ball that are looked at, at most, and how many may be burnt out.
LOOKED_AT, BURNT = 4000, 0.25
#: A second light on a matt ball is told where it takes this much off what one light leaves.
BETTER = 0.6
#: A matt ball that lies farther off any such light than this, a part of its brightest, says
#: nothing; and the least that its direction may be off, degrees (judgement).
ASTRAY, MATT_OFF_DEG = 0.12, 2.5
#: A key that gives less than this part of the brightest is light from everywhere, or a wall that
#: grows darker to one side (judgement); a fill gives this part of the key at least.
EVEN, LEAST_FILL = 0.25, 0.08


@dataclass(frozen=True)
class Circle:
    """The outline of a ball in a picture, pixels."""

    x: float
    y: float
    radius: float


@dataclass(frozen=True)
class Matt:
    """What a grey ball says: its `key`, its `fill` (None where there is none that shows), key side
    over shadow side in stops (None where nothing reaches that), and the root mean square of what
    it lies off such light, a part of its brightest."""

    key: Light
    fill: Light | None
    ratio_stops: float | None
    rms: float


def chrome(picture: ArrayLike, circle: Circle, focal_px: float) -> tuple[Light, ...]:
    """The lights that a chrome ball shows in a `picture` (h, w, 3) as recorded, brightest first;
    `focal_px`: the pinhole distance. Raises Impossible where none stands out, or the circle is too
    small or lies out of the picture."""
    cut, rays, middle, sine, traced = _cut(picture, circle, focal_px)
    normal, inside = _normals(rays, middle, sine, MIRRORED)
    towards = rays - 2.0 * (rays * normal).sum(axis=-1, keepdims=True) * normal
    light = np.where(inside, luma(to_light(cut)), 0.0)
    burnt = inside & (cut.max(axis=-1) >= CLIPPED)
    solid = _solid_angles(towards, inside)
    usual = float(np.median(light[inside]))
    found: list[tuple[float, Light]] = []
    left = light.copy()
    behind = False
    for _ in range(MOST * 3):
        top = np.unravel_index(int(left.argmax()), left.shape)
        peak = float(left[top])
        if peak <= max(STANDS_OUT * usual, 1e-4) or len(found) == MOST:
            break
        blob = _blob(left > EDGE * peak, top)
        left[cv2.dilate(blob.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0] = 0.0
        weight = light * solid * blob
        given = float(weight.sum())
        size = _across_deg(float((solid * blob).sum()))
        if found and (given < LEAST_SHARE * found[0][0] or size > WIDEST_DEG):
            continue
        way = _unit((towards * weight[..., None]).sum(axis=(0, 1)))
        apart = math.degrees(math.acos(float(np.clip(-way @ middle, -1.0, 1.0))))
        if apart > MOST_DEG:
            behind = True
            continue
        if any(_of_one_lamp(way, one) for _, one in found):
            continue
        across = math.sqrt(4.0 * float(blob.sum()) / math.pi)
        off = 2.0 * traced / math.cos(math.radians(apart) / 2.0)
        one = Light(
            _told(way),
            math.degrees(off),
            size,
            across < SIZED_PX or bool(burnt[blob].any()),
            None if burnt[blob].any() else 0.0,
        )
        found.append((given, one))
        found.sort(key=lambda pair: -pair[0])
    if not found:
        raise Impossible(_nothing(behind), "balls")
    most = found[0][0]
    # Beside one that was burnt out nobody knows how far under it another lies.
    known = None not in (one.stops for _, one in found)
    return tuple(
        replace(one, stops=math.log2(most / given) if known else None) for given, one in found
    )


def _of_one_lamp(way: Array, one: Light) -> bool:
    """Whether what shines there is the glow around a light that was found."""
    apart = math.degrees(math.acos(float(np.clip(way @ np.array(one.towards), -1.0, 1.0))))
    return apart < max(one.size_deg or 0.0, 2.0 * one.off_deg)


def _nothing(behind: bool) -> str:
    if behind:
        return (
            "the light stands so far behind the ball that only its rim shows it, and a rim does "
            "not say where: hold the ball where the camera sees more of its lit side."
        )
    return (
        "nothing in it is much brighter than the rest, so it shows no lamp: light from everywhere, "
        "or the circle does not lie on the ball."
    )


def grey(picture: ArrayLike, circle: Circle, focal_px: float) -> Matt:
    """What the light on a matt grey ball says, in a `picture` (h, w, 3) as recorded. Raises
    Impossible where it is burnt out or evenly lit, fits no light, or the circle is too small or
    lies out of the picture."""
    cut, rays, middle, sine, traced = _cut(picture, circle, focal_px)
    normal, inside = _normals(rays, middle, sine, MATT)
    burnt = cut.max(axis=-1) >= CLIPPED
    if float(burnt[inside].mean()) > BURNT:
        raise Impossible(
            "its lit side is burnt out, so nothing shows how light falls off there: a stop or two "
            "less exposure.",
            "balls",
        )
    used = inside & ~burnt
    every = max(int(used.sum()) // LOOKED_AT, 1)
    facing = normal[used][::every]
    bright = luma(to_light(cut))[used][::every].astype(np.float64)
    most = max(float(np.percentile(bright, 99.0)), 1e-6)
    bright = bright / most
    one = _fitted(facing, bright, _first(facing, bright))
    two = _fitted(facing, bright, _with_second(facing, bright, one))
    rms_one, rms_two = _rms(facing, bright, one), _rms(facing, bright, two)
    if rms_two < BETTER * rms_one and _falls(two, 1) > LEAST_FILL * _falls(two, 0):
        fit, rms = two, rms_two
    else:
        fit, rms = one, rms_one
    if _falls(fit, 0) < EVEN:
        raise Impossible(
            "it is as bright on one side as on the other: no key, or the circle does not lie on "
            "the ball.",
            "balls",
        )
    if rms > ASTRAY:
        raise Impossible(
            "its light falls off as on no matt ball: does the circle lie on it, is it shiny, does "
            "a shadow fall on it?",
            "balls",
        )
    off = math.hypot(math.degrees(traced), MATT_OFF_DEG + math.degrees(rms))
    ways = [_unit(light) for light in _lights(fit)]
    under = math.log2(_falls(fit, 0) / _falls(fit, 1)) if len(ways) > 1 else 0.0
    fill = Light(_told(ways[1]), 2.0 * off, stops=under) if len(ways) > 1 else None
    shadow = max(float(fit[0]), 0.0) + (_falls(fit, 1) if len(ways) > 1 else 0.0)
    lit = float(_lit(ways[0][None, :], fit)[0])
    ratio = math.log2(lit / shadow) if shadow > 1e-3 * lit else None
    return Matt(Light(_told(ways[0]), off), fill, ratio, rms)


def _cut(
    picture: ArrayLike, circle: Circle, focal_px: float
) -> tuple[Picture, Array, Array, float, float]:
    """The pixels about a ball, the rays they see along (unit vectors), the way to its middle, the
    sine of half the angle that it takes up, and what a hand traces it to, a part of its radius."""
    whole = as_picture("picture", picture)
    high, wide = whole.shape[:2]
    x, y, radius = circle.x, circle.y, circle.radius
    if not (math.isfinite(focal_px) and focal_px > 0.0):
        raise Impossible("focal length must be above zero.", "focal_px")
    if not all(map(math.isfinite, (x, y, radius))) or 2.0 * radius < LEAST_PX:
        raise Impossible(
            f"a ball must be {LEAST_PX:.0f} pixels across at least to say anything: hold it nearer "
            "the lens, or use a longer one.",
            "balls",
        )
    slack = 0.02 * radius
    if not (
        radius - slack <= x <= wide - radius + slack
        and radius - slack <= y <= high - radius + slack
    ):
        raise Impossible("all of the ball must be in the picture.", "balls")
    left, top = max(int(x - radius) - 1, 0), max(int(y - radius) - 1, 0)
    right, foot = min(int(x + radius) + 2, wide), min(int(y + radius) + 2, high)
    rows, columns = np.mgrid[top:foot, left:right]
    rays = _rays(columns + 0.5, rows + 0.5, wide, high, focal_px)
    # Seen aside a ball is an oval, longer along the way from the middle of the picture.
    aside = np.array([x - wide / 2.0, y - high / 2.0])
    far = float(np.hypot(*aside))
    along = aside / far if far > 1e-6 else np.array([1.0, 0.0])
    near_end, far_end, side = (
        _rays(x + dx, y + dy, wide, high, focal_px)
        for dx, dy in (-radius * along, radius * along, radius * np.array([-along[1], along[0]]))
    )
    middle = _unit(near_end + far_end)
    angles = [math.acos(min(float(middle @ end), 1.0)) for end in (far_end, side)]
    sine, traced = math.sin(sum(angles) / 2.0), TRACED * wide / radius
    return whole[top:foot, left:right], rays, middle, sine, traced


def _rays(x: ArrayLike, y: ArrayLike, wide: int, high: int, focal_px: float) -> Array:
    across = (np.asarray(x, np.float64) - wide / 2.0) / focal_px
    down = (np.asarray(y, np.float64) - high / 2.0) / focal_px
    found: Array = np.stack([across, down, np.ones_like(across)], axis=-1)
    found /= np.linalg.norm(found, axis=-1, keepdims=True)
    return found


def _normals(rays: Array, middle: Array, sine: float, part: float) -> tuple[Array, Flags]:
    """Which way a ball faces where a ray meets it (h, w, 3), and where it does inside a part of
    its outline. The ball is `sine` large, its middle 1 away."""
    ahead = rays @ middle
    under = ahead**2 - 1.0 + sine**2
    inside = under > sine**2 * (1.0 - part**2)
    met = rays * (ahead - np.sqrt(np.maximum(under, 0.0)))[..., None]
    normal: Array = (met - middle) / sine
    return normal, inside


def _solid_angles(towards: Array, inside: Flags) -> Array:
    """The solid angle (h, w) that each pixel of a chrome ball shows, steradians."""
    down, right = np.gradient(towards, axis=0), np.gradient(towards, axis=1)
    found: Array = np.linalg.norm(np.cross(down, right), axis=-1)
    return np.where(inside, found, 0.0)


def _blob(bright: Flags, at: tuple[np.intp, ...]) -> Flags:
    """What hangs together with a pixel among those that are bright."""
    _, names = cv2.connectedComponents(bright.astype(np.uint8), connectivity=8)
    found: Flags = names == names[at]
    return found


def _across_deg(steradians: float) -> float:
    """How wide a round light of that solid angle is, degrees."""
    return 2.0 * math.degrees(math.acos(max(1.0 - steradians / (2.0 * math.pi), -1.0)))


def _unit(way: Array) -> Array:
    found: Array = way / max(float(np.linalg.norm(way)), 1e-12)
    return found


def _told(way: Array) -> Direction:
    x, y, z = (float(v) for v in way)
    return x, y, z


def _lights(fit: Array) -> Array:
    """The lights (n, 3) of a fit: towards each, as long as it is bright."""
    return fit[1:].reshape(-1, 3)


def _lit(facing: Array, fit: Array) -> Array:
    """How bright faces (n, 3) are: even light and one light or two from far away."""
    found: Array = fit[0] + np.maximum(facing @ _lights(fit).T, 0.0).sum(axis=1)
    return found


def _falls(fit: Array, n: int) -> float:
    """What a light gives on a face turned to it."""
    return float(np.linalg.norm(_lights(fit)[n]))


def _first(facing: Array, bright: Array) -> Array:
    told = np.concatenate([np.ones((len(facing), 1)), facing], axis=1)
    found, *_ = np.linalg.lstsq(told, bright, rcond=None)
    # A ball lit from one side is dark on the other: the mean of both is not even light.
    return np.array([max(float(bright.min()), 1e-3), *(1.5 * found[1:])])


def _with_second(facing: Array, bright: Array, one: Array) -> Array:
    """A start for two lights: the second where one light leaves most unexplained."""
    left = bright - _lit(facing, one)
    way = _unit((facing * np.maximum(left, 0.0)[:, None]).sum(axis=0))
    return np.array([0.5 * one[0], *one[1:], *(0.3 * way)])


def _fitted(facing: Array, bright: Array, start: Array) -> Array:
    def away(fit: Array) -> Array:
        return _lit(facing, fit) - bright

    low = np.array([0.0, *[-np.inf] * (len(start) - 1)])
    found: Array = least_squares(
        away, np.maximum(start, low), bounds=(low, np.inf), loss="soft_l1", f_scale=0.05
    ).x
    lights = _lights(found)
    brightest_first = np.argsort(-np.linalg.norm(lights, axis=1), kind="stable")
    return np.concatenate([found[:1], lights[brightest_first].ravel()])


def _rms(facing: Array, bright: Array, fit: Array) -> float:
    return float(np.sqrt(np.mean((_lit(facing, fit) - bright) ** 2)))
