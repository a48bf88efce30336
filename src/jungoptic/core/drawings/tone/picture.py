"""A plate in tone, in delivered pixels."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ...camera import Camera
from ...lighting.facing import on_faces
from ...lighting.on_stage import lighting
from ...lighting.stage_shadows import shadows_in_frame
from ...plan.standins import StandIn
from ...stage.case import Case
from ...words.outlines import Path, areas, band
from ..frame import draw
from .faces import FLOOR, GIVES, UP, Face, faces_of, floor_of
from .lit import Lit, coded, shining
from .softness import DISC, SOFTEST, depth_of, middle_of, softness_of

#: A figure is shaded as a column: where its strips lie across it, -1 left to 1 right.
STRIPS = ((-1.0, -0.6), (-0.6, -0.2), (-0.2, 0.2), (0.2, 0.6), (0.6, 1.0))
#: Farther than anything: where shadows lie, and the ground under them.
UNDER_ALL, GROUND = 5e4, 1e5
#: A strip has no corners of its own: its shape comes out of the figure's outline.
NOWHERE = np.empty((0, 3))

Kind = Literal["face", "floor", "shadow"]


@dataclass(frozen=True)
class Tone:
    """A flat part of the picture. `grey`: as shown, 0..1; of a shadow, how much it darkens.
    `far_m`: how far away it lies, world metres; `soft_px`: what blurs it across and down, standard
    deviations. `stand_in_id` is empty for what belongs to none."""

    stand_in_id: str
    kind: Kind
    paths: tuple[Path, ...]
    grey: float
    far_m: float
    soft_px: tuple[float, float] = (0.0, 0.0)


def tones(case: Case, part: float = 0.0) -> tuple[Tone, ...]:
    """The plate's tones after a part (0..1) of the screen time, farthest first. Where no lamp
    stands yet, the story's key lights it."""
    shot, plate = case.shot, case.plate
    camera = shot.move.moved(case.stage.camera, part, plate.scale)
    gone = shot.time.after(part)
    things = [s.after(gone) for s in shot.stand_ins_of(plate) if s.matters != "none"]
    people = [s for s in things if s.kind == "figure"]
    faces = [face for s in things if s.kind != "figure" for face in faces_of(case, s, camera)]
    if not plate.cut_out and not any(s.kind == "ground" for s in things):
        faces += floor_of(case, camera)
    strips = [face for s in people for face in _strips(case, camera, s)]
    paths = areas(camera, [f.ring for f in faces], *_size(case))
    shapes = paths + _bands(case, camera, people)
    found = _toned(case, camera, faces + strips, shapes, part)
    # Of what is cut out neither floor nor shadow is seen.
    if not plate.cut_out:
        found += _shadows(case, camera, part)
    return tuple(sorted(found, key=lambda t: -t.far_m))


def _size(case: Case) -> tuple[float, float]:
    return float(case.shot.delivery.width_px), float(case.shot.delivery.height_px)


def _toned(
    case: Case, camera: Camera, faces: list[Face], shapes: list[tuple[Path, ...]], part: float
) -> list[Tone]:
    """Faces in the tones they have, each with its shape in the picture."""
    seen = [(face, shape) for face, shape in zip(faces, shapes, strict=True) if shape]
    if not seen:
        return []
    at = np.array([f.at for f, _ in seen])
    away = np.maximum((at - np.asarray(camera.position_m)) @ camera.axes[2], 0.0)
    away = away * case.plate.scale
    greys = Lit.of(case).shown(
        at, np.array([f.normal for f, _ in seen]), np.array([f.gives for f, _ in seen]), away
    )
    things = {f.thing.id: f.thing for f, _ in seen if f.thing is not None}
    soft = softness_of(case, camera, things.values(), part)
    # A thing's own faces lie together, and all ground behind all things.
    far = {key: depth_of(case, camera, thing) for key, thing in things.items()}
    found = []
    for (face, shape), grey, depth in zip(seen, greys, away, strict=True):
        thing = face.thing
        ground = thing is None or thing.kind == "ground"
        key = "" if thing is None else thing.id
        depth = float(depth) if thing is None else far[key]
        found.append(
            Tone(
                key,
                "floor" if ground else "face",
                shape,
                float(grey),
                depth + GROUND if ground else depth,
                soft.get(key, (0.0, 0.0)),
            )
        )
    return found


def _strips(case: Case, camera: Camera, thing: StandIn) -> list[Face]:
    """A figure as a column: strips that look from left to right."""
    at = middle_of(case, thing)
    towards = (np.asarray(camera.position_m) - at) * (1.0, 1.0, 0.0)
    towards = towards / max(float(np.linalg.norm(towards)), 1e-9)
    right = np.array([-towards[1], towards[0], 0.0])
    found = []
    for a, b in STRIPS:
        turn = (a + b) / 2.0
        normal = (1.0 - turn * turn) ** 0.5 * towards + turn * right
        found.append(Face(thing, NOWHERE, at, normal, GIVES["figure"]))
    return found


def _bands(case: Case, camera: Camera, people: list[StandIn]) -> list[tuple[Path, ...]]:
    """The shapes of all strips of all figures, in order."""
    plate = case.plate
    picture = draw(camera, tuple(people), plate.scale, *_size(case), plate.ground_m)
    found: list[tuple[Path, ...]] = []
    for outline in picture.outlines:
        closed = [p for p in outline.paths if len(p) > 3]
        for a, b in STRIPS:
            pieces = []
            for path in closed:
                xs = [p[0] for p in path]
                middle, half = (min(xs) + max(xs)) / 2.0, (max(xs) - min(xs)) / 2.0
                pieces.append(band(path, middle + a * half, middle + b * half))
            found.append(tuple(p for p in pieces if len(p) > 3))
    return found


def _shadows(case: Case, camera: Camera, part: float) -> list[Tone]:
    """Shadows of the key on the ground of the stage, as deep as what else lights it lets them
    be."""
    light = lighting(case)
    key = None if light is None else light.key_lamp
    if light is None or key is None or key.penumbra_m is None:
        return []
    at = np.array(light.at_m)
    sources = shining(case)
    each = on_faces(sources, at[None] * (1.0, 1.0, 0.0), UP[None])[:, 0]
    own = next(i for i, s in enumerate(sources) if s.number == key.number)
    total = float(each.sum()) + light.room_lux
    if total <= 0.0:
        return []
    left, whole = coded(np.array([(total - each[own]) / total * FLOOR, FLOOR]))
    darker = round(1.0 - float(left / whole), 3)
    away = float((at - np.asarray(camera.position_m)) @ camera.axes[2])
    wide = case.shot.delivery.width_px
    soft = min(key.penumbra_m * camera.focal_px(wide) / max(away, 0.05) * DISC, wide * SOFTEST)
    # On the ground it is seen at a slant.
    spread = round(soft, 1), round(soft / 3.0, 1)
    found = []
    for outline in shadows_in_frame(case, part):
        shapes = tuple(p for p in outline.paths if len(p) > 3)
        if shapes:
            found.append(Tone(outline.stand_in_id, "shadow", shapes, darker, UNDER_ALL, spread))
    return found
