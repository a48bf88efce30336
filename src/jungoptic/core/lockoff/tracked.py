"""Tracking markers on a surface, and cards whose picture is replaced: size, spacing, colour."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ..camera import Array
from ..judging.limits import MARKER_LEAST_PX, MARKER_STANDS_OUT, MARKERS_LEAST
from ..judging.rule import Rule
from ..judging.way import Way
from ..plan.findings import Finding, Quantity, Verdict, Working
from ..plan.standins import StandIn
from ..plan.tricks import Markers
from ..screens.colours import lab
from ..stage.case import Case
from ..stage.clip import Flags
from ..stage.in_frame import gone_m, some_parts
from ..words.quantities import length, pixels

#: Frames looked at, at most.
MOMENTS = 25
#: More markers than this are not set up.
MOST = 2000
#: A step on a surface by which a marker's size in the picture is told, in the story's metres.
STEP_M = 1e-4
#: Marker colours to choose from (sRGB), by what a hardware store has.
TAPES: tuple[tuple[str, tuple[int, int, int]], ...] = (
    ("orange", (230, 120, 30)),
    ("white", (235, 235, 232)),
    ("black", (25, 25, 26)),
    ("pink", (225, 80, 140)),
    ("yellow", (230, 205, 40)),
    ("light green", (110, 190, 90)),
    ("dark green", (25, 95, 50)),
    ("blue", (45, 90, 190)),
)
CARD = (
    "Matt card, mid grey or in the key's colour, no gloss",
    "Markers on the four corners and the middle of each edge; none where fingers hold",
    "One pass with a sheet of gloss on the card: its reflections are laid back on the picture",
    "The picture itself, printed, held once for the light on it",
)
PLATE = (
    "Lens, focus and zoom do not change during the take",
    "Tape measure between two markers photographed: the track gets a scale",
    "One take without markers where the light stands anyway",
)


@dataclass(frozen=True)
class MarkerPlan:
    """Markers over the shot. `smallest_px` and `fewest` are the least over the frames looked at;
    `first_px`: where they are in the first frame's picture, and their size."""

    plate_id: str
    surface: str
    count: int
    smallest_px: float
    largest_px: float
    fewest: int
    worst_frame: int
    apart_lab: float
    need_mm: float
    need_spacing_m: float | None
    best_colour: str
    best_rgb: tuple[int, ...]
    first_px: tuple[tuple[float, float, float], ...]
    advice: tuple[str, ...]


def grid(surface: StandIn, spacing_m: float, edges: bool) -> Array:
    """Marker places (n, 2) across and up from the foot's middle: a grid over the surface, or for a
    card its corners and the middles of its edges."""
    w, h = surface.width_m, max(surface.height_m, surface.depth_m)
    if edges:
        return np.array(
            [
                (x * w * 0.46, (0.5 + y * 0.46) * h)
                for x in (-1, 0, 1)
                for y in (-1, 0, 1)
                if (x, y) != (0, 0)
            ]
        )
    columns = min(max(math.floor(w / spacing_m + 1e-9) + 1, 1), MOST)
    rows = min(max(math.floor(h / spacing_m + 1e-9) + 1, 1), max(MOST // columns, 1))
    xs = (np.arange(columns) - (columns - 1) / 2.0) * spacing_m
    ys = h / 2.0 + (np.arange(rows) - (rows - 1) / 2.0) * spacing_m
    return np.array([(x, y) for y in ys for x in xs])


def on_surface(surface: StandIn, places: Array) -> Array:
    """Places (n, 2) on the front of a stand-in as world points (n, 3); on a ground, lying."""
    turn = math.radians(surface.heading_deg)
    c, s = math.cos(turn), math.sin(turn)
    across = places[:, 0]
    if surface.kind == "ground":
        return np.stack(
            [
                surface.x_m + across * c + places[:, 1] * s,
                surface.y_m - across * s + places[:, 1] * c,
                np.full(len(places), surface.z_m),
            ],
            axis=1,
        )
    return np.stack(
        [surface.x_m + across * c, surface.y_m - across * s, surface.z_m + places[:, 1]], axis=1
    )


def _through(case: Case, surface: StandIn, places: Array, size_m: float) -> tuple[Array, Array]:
    """Pixels (f, n, 2) and sizes in pixels (f, n) of markers over the shot; NaN outside, and where
    the surface turns its back. A size is the marker's smaller one: what lies on a floor or stands
    aslant is seen foreshortened."""
    shot, plate = case.shot, case.plate
    w, h = shot.delivery.width_px, shot.delivery.height_px
    parts = some_parts(shot, MOMENTS)
    gone = gone_m(shot, surface, parts)[:, None, :]
    path = shot.move.along(case.stage.camera, parts, plate.scale)
    # A marker's middle, and a step across and up the surface, in the story's metres.
    step = np.array([(0.0, 0.0), (STEP_M, 0.0), (0.0, STEP_M)])
    spots = [on_surface(surface, places + s)[None] + gone for s in step]
    middle, across, up = (path.project(plate.on_stage(at), w, h)[0] for at in spots)
    # The smaller half-axis of the ellipse that a small circle becomes.
    a, b = across - middle, up - middle
    square = np.sum(a * a + b * b, axis=2) / 2.0
    turned = a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0]
    smaller = np.sqrt(np.maximum(square - np.sqrt(np.maximum(square**2 - turned**2, 0.0)), 0.0))
    inside: Flags = np.all((middle >= 0) & (middle <= np.array([w, h])), axis=2)
    # On a box they are on its front; across runs to the right of the picture only from before it.
    shown: Flags = inside & ((turned < 0.0) | (surface.kind != "box"))
    sizes = np.where(shown, smaller * (size_m * plate.scale / STEP_M), np.nan)
    return np.where(shown[:, :, None], middle, np.nan), sizes


def colour_difference(a: tuple[int, ...], b: tuple[int, ...]) -> float:
    """Colour difference Delta E*ab (CIE 15)."""
    (r, g, blue), (u, v, w) = a, b
    return math.dist(lab((r, g, blue)), lab((u, v, w)))


def surface_of(case: Case, markers: Markers) -> StandIn | None:
    """What the markers are on: as chosen, else the plate's largest upright thing."""
    own = [s for s in case.shot.stand_ins if s.id == markers.surface_id]
    if own:
        return own[0]
    mine = [s for s in case.shot.stand_ins_of(case.plate) if s.kind in ("card", "box", "ground")]
    return max(mine, key=lambda s: s.width_m * max(s.height_m, s.depth_m), default=None)


def marker_plan(case: Case, markers: Markers | None = None) -> MarkerPlan | None:
    """The markers of a plate over the whole move; None without any, or without a surface."""
    markers = markers or case.plate.markers
    surface = None if markers is None else surface_of(case, markers)
    if markers is None or surface is None:
        return None
    # Stage millimetres on a surface that is scaled.
    size_m = markers.size_mm / 1000.0
    spacing = markers.spacing_m * case.plate.scale
    places = grid(surface, spacing, markers.insert)
    px, sizes = _through(case, surface, places, size_m)
    good = (sizes >= MARKER_LEAST_PX).sum(axis=1)
    worst = int(good.argmin())
    with np.errstate(all="ignore"):
        smallest = float(np.nanmin(sizes)) if np.isfinite(sizes).any() else 0.0
        largest = float(np.nanmax(sizes)) if np.isfinite(sizes).any() else 0.0
    need_mm = (
        math.ceil(markers.size_mm * MARKER_LEAST_PX / smallest) if smallest > 0 else markers.size_mm
    )
    name, rgb = max(TAPES, key=lambda t: colour_difference(t[1], markers.surface))
    first = [
        (round(float(x), 1), round(float(y), 1), round(float(s), 1))
        for (x, y), s in zip(px[0], sizes[0], strict=True)
        if np.isfinite(s)
    ]
    parts = some_parts(case.shot, MOMENTS)
    return MarkerPlan(
        case.plate.id,
        surface.name,
        len(places),
        round(smallest, 2),
        round(largest, 2),
        int(good[worst]),
        1 + round(float(parts[worst]) * (case.shot.frames - 1)),
        round(colour_difference(markers.colour, markers.surface), 1),
        float(need_mm),
        None if markers.insert else _spacing(case, surface, max(size_m, need_mm / 1000.0)),
        name,
        rgb,
        tuple(first[:400]),
        CARD if markers.insert else PLATE,
    )


def _spacing(case: Case, surface: StandIn, size_m: float) -> float | None:
    """The widest spacing (stage metres) at which enough markers are always seen."""
    for metres in (4.0, 3.0, 2.0, 1.5, 1.0, 0.75, 0.5, 0.4, 0.3, 0.25, 0.2, 0.15, 0.1, 0.07, 0.05):
        places = grid(surface, metres * case.plate.scale, False)
        if len(places) >= MOST:
            return None
        _, sizes = _through(case, surface, places, size_m)
        if ((sizes >= MARKER_LEAST_PX).sum(axis=1) >= MARKERS_LEAST).all():
            return metres
    return None


def judge_markers(case: Case) -> Finding | None:
    """Whether a plate that will be tracked, or holds a card, has markers that can be followed."""
    plate = case.plate
    if plate.markers is None and not plate.tracked:
        return None
    plan = marker_plan(case)
    if plan is None:
        words = (
            "This plate will be tracked and has no markers planned: it then hangs on what happens "
            "to be in the picture."
        )
        if surface_of(case, Markers()) is None:
            words += " Give it a stand-in for the wall, box or ground that they would be on."
        return RULE.finding(Verdict.STRAINS, words)
    markers = plate.markers or Markers()
    small = plan.smallest_px < MARKER_LEAST_PX
    few = plan.fewest < MARKERS_LEAST
    pale = plan.apart_lab < MARKER_STANDS_OUT
    verdict = Verdict.BREAKS if few else Verdict.STRAINS if small or pale else Verdict.HOLDS
    words = (
        f"{plan.count} markers of {markers.size_mm:g} mm on {plan.surface}: "
        f"{pixels(plan.smallest_px)} to {pixels(plan.largest_px)} in the picture; at frame "
        f"{plan.worst_frame} {plan.fewest} of {MARKER_LEAST_PX:g} px or more "
        f"({MARKERS_LEAST} wanted)."
    )
    if pale:
        words += f" Their colour hardly stands off the surface (Delta E {plan.apart_lab:.0f})."
    return Finding(
        key="markers",
        title="Card to be replaced" if markers.insert else "Tracking markers",
        verdict=verdict,
        sentence=words,
        workings=(
            Working(
                formula="size in the picture = size · f / distance, foreshortened",
                inputs=(
                    Quantity("s", "size", markers.size_mm, "mm"),
                    Quantity("E", "off the surface", plan.apart_lab, "Delta E*ab"),
                    Quantity("n", "fewest seen", float(plan.fewest), ""),
                ),
                result=Quantity("p", "smallest in the picture", plan.smallest_px, "px"),
                source="Pinhole projection; CIELAB (CIE 15); 8 px and six markers are common "
                "practice.",
            ),
        ),
    )


def _ways(case: Case) -> list[Way]:
    """Markers where there are none yet; else size, spacing and colour worked out."""
    markers = case.plate.markers or Markers()
    if marker_plan(case) is None:
        surface = surface_of(case, markers)
        if surface is None:
            return []
        markers = replace(markers, surface_id=surface.id)
    better = _better(case, markers)
    return [] if better is None else [better]


def _better(case: Case, markers: Markers) -> Way | None:
    plan = marker_plan(case, markers)
    if plan is None:
        return None
    changed = replace(
        markers,
        size_mm=max(markers.size_mm, plan.need_mm),
        spacing_m=markers.spacing_m if plan.need_spacing_m is None else plan.need_spacing_m,
        colour=plan.best_rgb if plan.apart_lab < MARKER_STANDS_OUT else markers.colour,
    )
    after = marker_plan(case, changed)
    if after is None or after.fewest < MARKERS_LEAST:
        return None
    return Way(
        f"Markers of {changed.size_mm:g} mm"
        + ("" if markers.insert else f", {length(changed.spacing_m)} apart")
        + (f", {plan.best_colour}." if changed.colour != markers.colour else "."),
        {"markers": changed},
        f"{pixels(after.smallest_px)} at the least, {after.fewest} always seen.",
    )


RULE = Rule(
    key="markers",
    title="Tracking markers",
    name="tracking markers",
    speak=judge_markers,
    ways=_ways,
    of_shot=True,
    otherwise="A surface that the camera sees throughout, with room for larger markers.",
)
