"""Following light through a scene, with Mitsuba 3: the only file that knows of it.

It is imported by the process that renders and by nobody else; where it is missing the rest works.
"""

from __future__ import annotations

import math
import os
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from .scene import Eye, Layers, Pose, Rolling, Scene, Shining, Solid
from .shapes import normals

#: Debian's libllvm19; 15 fails while it makes code.
LLVM = Path("/usr/lib/x86_64-linux-gnu/libLLVM.so.19.1")
MISSING = (
    "Pictures cannot be developed here: the rendering engine is not installed. Install Debian's"
    " libllvm19 and the Python package mitsuba, or run the set-up again."
)
#: So many moments of an open shutter are laid over each other, and so many at most where it opens
#: line by line.
MOMENTS, MOST_MOMENTS = 8, 16
#: Brightness of red, green and blue (ITU-R BT.709).
LUMA = np.array([0.2126, 0.7152, 0.0722], np.float32)
#: Layers beside the light, in the order in which they are asked for.
ASIDE = "colour:albedo,facing:sh_normal,depth:depth"


class NoEngine(RuntimeError):
    """The engine is not there; the text says what to install."""


def available() -> bool:
    """Whether pictures can be developed on this machine, without loading the engine."""
    from importlib.util import find_spec

    return (
        find_spec("mitsuba") is not None
        and Path(os.environ.get("DRJIT_LIBLLVM_PATH", LLVM)).exists()
    )


def warmed() -> Any:
    """The engine, ready. Raises NoEngine where it is not installed."""
    if not available():
        raise NoEngine(MISSING)
    os.environ.setdefault("DRJIT_LIBLLVM_PATH", str(LLVM))
    import mitsuba as mi

    if mi.variant() is None:
        mi.set_variant("llvm_ad_rgb")
        mi.set_log_level(mi.LogLevel.Error)
        from .beam import register

        register(mi)
    return mi


def _between(eye: Eye, part: float) -> Pose:
    a, b = eye.pose, eye.closing
    x, y, z = (p + (q - p) * part for p, q in zip(a.at_m, b.at_m, strict=True))
    return Pose(
        (x, y, z),
        a.pan_deg + (b.pan_deg - a.pan_deg) * part,
        a.tilt_deg + (b.tilt_deg - a.tilt_deg) * part,
        a.roll_deg + (b.roll_deg - a.roll_deg) * part,
    )


def _placed(mi: Any, pose: Pose) -> Any:
    _, down, ahead = pose.axes
    at = np.asarray(pose.at_m)
    return mi.ScalarTransform4f().look_at(
        origin=[float(v) for v in at],
        target=[float(v) for v in at + ahead],
        up=[float(v) for v in -down],
    )


def _rgb(colour: Any) -> dict[str, Any]:
    return {"type": "rgb", "value": [float(v) for v in colour]}


def _mesh(mi: Any, solid: Solid | Shining, emitter: dict[str, Any] | None = None) -> Any:
    reflectance = getattr(solid, "reflectance", (0.0, 0.0, 0.0))
    matt: dict[str, Any] = {"type": "diffuse", "reflectance": _rgb(reflectance)}
    properties = mi.Properties()
    properties["bsdf"] = mi.load_dict(matt if emitter else {"type": "twosided", "matt": matt})
    if emitter is not None:
        properties["emitter"] = mi.load_dict(emitter)
    smooth = bool(getattr(solid, "smooth", False))
    points = np.ascontiguousarray(solid.vertices, dtype=np.float32)
    mesh = mi.Mesh(
        "mesh", len(points), len(solid.faces), has_vertex_normals=smooth, props=properties
    )
    values = mi.traverse(mesh)
    values["vertex_positions"] = points.ravel()
    values["faces"] = np.ascontiguousarray(solid.faces, dtype=np.uint32).ravel()
    if smooth:
        values["vertex_normals"] = normals(solid.vertices, solid.faces).astype(np.float32).ravel()
    values.update()
    return mesh


def _solid(mi: Any, solid: Solid) -> Any:
    if not solid.ball_m:
        return _mesh(mi, solid)
    matt: dict[str, Any] = {"type": "diffuse", "reflectance": _rgb(solid.reflectance)}
    shiny = {"type": "conductor", "material": "none"}
    return {
        "type": "sphere",
        "center": [float(v) for v in solid.vertices[0]],
        "radius": solid.ball_m,
        "bsdf": shiny | {"specular_reflectance": _rgb(solid.reflectance)} if solid.mirror else matt,
    }


def _lamp(mi: Any, lamp: Shining) -> Any:
    area: dict[str, Any] = {"type": "area", "radiance": _rgb(lamp.radiance)}
    if lamp.radius_m:
        return {
            "type": "sphere",
            "center": [float(v) for v in lamp.vertices.mean(axis=0)],
            "radius": lamp.radius_m,
            "emitter": area,
            "bsdf": {"type": "diffuse", "reflectance": _rgb((0.0, 0.0, 0.0))},
        }
    if abs(lamp.power) > 1e-6:
        r, g, b = lamp.radiance
        beam = {"radiance_r": r, "radiance_g": g, "radiance_b": b, "power": lamp.power}
        area = {"type": "beam", **beam}
    return _mesh(mi, lamp, area)


#: A part of a picture: its left and top edge and its size, pixels.
Part = tuple[int, int, int, int]


def _camera(mi: Any, eye: Eye, width: int, height: int, part: Part | None) -> dict[str, Any]:
    across = eye.sensor_mm[0]
    camera: dict[str, Any] = {
        "type": "thinlens" if eye.pupil_m > 0.0 else "perspective",
        "fov_axis": "x",
        "fov": 2.0 * math.degrees(math.atan(across / 2.0 / eye.picture_mm)),
        "near_clip": 1e-3,
        "far_clip": 1e5,
        "to_world": _placed(mi, eye.pose),
        "film": {
            "type": "hdrfilm",
            "width": width,
            "height": height,
            "pixel_format": "rgb",
            "component_format": "float32",
            "rfilter": {"type": "box"},
        },
        "sampler": {"type": "multijitter", "sample_count": 16},
    }
    if part is not None:
        left, top, wide, tall = part
        camera["film"] |= {"crop_offset_x": left, "crop_offset_y": top}
        camera["film"] |= {"crop_width": wide, "crop_height": tall}
    if eye.pupil_m > 0.0:
        camera |= {"aperture_radius": eye.pupil_m, "focus_distance": eye.sharp_m}
    return camera


class Stage:
    """A scene as the engine has it, ready to be looked at: its picture `width` by `height` pixels,
    or only a `part` of that. `bounces`: how often light is given back on its way; 1 is what lamps
    throw on things, 0 what is seen of the lamps themselves. `aside`: whether colour, facing and
    depth are wanted beside the light."""

    def __init__(
        self,
        scene: Scene,
        width: int,
        height: int,
        bounces: int = 4,
        part: Part | None = None,
        aside: bool = True,
    ) -> None:
        self._mi = mi = warmed()
        self._scene = scene
        self._size, self._part = (width, height), part
        # Paths that carry little are ended early: half the time, and the same light.
        path = {"type": "path", "max_depth": bounces + 1, "rr_depth": 2}
        world: dict[str, Any] = {
            "type": "scene",
            "integrator": {"type": "aov", "aovs": ASIDE, "light": path} if aside else path,
            "eye": _camera(mi, scene.eye, width, height, part),
        }
        for i, solid in enumerate(scene.solids):
            world[f"solid_{i}"] = _solid(mi, solid)
        for i, lamp in enumerate(scene.shining):
            world[f"lamp_{i}"] = _lamp(mi, lamp)
        if scene.sky is not None:
            world["sky"] = {"type": "constant", "radiance": _rgb(scene.sky)}
        self._loaded = mi.load_dict(world)

    def seen(
        self,
        samples: int = 16,
        seed: int = 0,
        tell: Callable[[int, int], None] | None = None,
        moments: int = MOMENTS,
        passes: int = 4,
    ) -> Layers:
        """Look at it: `samples` rays a pixel, in some passes, each best a square number of them.
        The same seed gives the same picture. `tell` hears how many of how many passes are done,
        and may raise to stop. `moments` of an open shutter are laid over each other where anything
        moves."""
        if self._scene.moves and self._scene.rolling is not None:
            return self._read(self._scene.rolling, samples, seed, tell, moments)
        passes = moments if self._scene.moves else passes
        each = max(samples // passes, 2)
        sums: np.ndarray | None = None
        bright: list[np.ndarray] = []
        for number in range(passes):
            if self._scene.moves:
                self._carry((number + 0.5) / passes)
            if tell is not None:
                tell(number, passes)
            picture = self._once(each, seed * 256 + number)
            bright.append(picture[..., :3] @ LUMA)
            sums = picture if sums is None else sums + picture
        assert sums is not None
        mean = (sums / passes).astype(np.float32)
        noise = np.var(np.stack(bright), axis=0, ddof=min(passes - 1, 1)) / passes
        return _layers(mean, noise.astype(np.float32))

    def _once(self, samples: int, seed: int) -> np.ndarray:
        """The scene as it stands now, with what is wanted beside the light."""
        found = self._mi.render(self._loaded, spp=samples, seed=seed)
        return np.nan_to_num(np.array(found, dtype=np.float32))

    def _read(
        self,
        rolling: Rolling,
        samples: int,
        seed: int,
        tell: Callable[[int, int], None] | None,
        moments: int,
    ) -> Layers:
        """Look at it line by line: every line is open for one time of the shutter, each a little
        later than the one before. As many moments are laid over each other in a line as if all
        were open at once, or fewer where reading takes several such times."""
        opens = self._opens(rolling)
        begin, end = float(opens.min()), float(opens.max()) + 1.0
        count = min(math.ceil(moments * (end - begin)), MOST_MOMENTS)
        step = (end - begin) / (count - 1)
        sums: np.ndarray | None = None
        squares: np.ndarray | None = None
        for number in range(count):
            at = begin + number * step
            if tell is not None:
                tell(number, count)
            self._carry(at)
            picture = self._once(max(samples // moments, 2), seed * 256 + number)
            # The part of a line's open time that this moment stands for, things going straight from
            # one moment to the next: what is carried evenly lies where it should in every line.
            share = step * (_until((opens + 1.0 - at) / step) - _until((opens - at) / step))
            bright = picture[..., :3] @ LUMA
            weighed = picture * share[..., None].astype(np.float32)
            spread = share.astype(np.float32) * bright**2
            sums = weighed if sums is None else sums + weighed
            squares = spread if squares is None else squares + spread
        assert sums is not None
        assert squares is not None
        each = count / (end - begin)
        noise = np.maximum(squares - (sums[..., :3] @ LUMA) ** 2, 0.0) / max(each - 1.0, 1.0)
        return _layers(sums.astype(np.float32), noise.astype(np.float32))

    def _opens(self, rolling: Rolling) -> np.ndarray:
        """When each line opens, in times of an open shutter: (h, 1), or (1, w) of upright ones."""
        axis = 0 if rolling.upright else 1
        before, count = 0, self._size[axis]
        if self._part is not None:
            before, count = self._part[axis], self._part[axis + 2]
        along = (before + np.arange(count) + 0.5) / self._size[axis]
        found = rolling.first + (rolling.last - rolling.first) * along
        return found[None, :] if rolling.upright else found[:, None]

    def _carry(self, part: float) -> None:
        """Put the camera and what moves where they are after a part of the open shutter."""
        values = self._mi.traverse(self._loaded)
        values["eye.to_world"] = self._mi.Transform4f(
            _placed(self._mi, _between(self._scene.eye, part))
        )
        for i, solid in enumerate(self._scene.solids):
            if any(solid.carried_m):
                there = solid.vertices + np.asarray(solid.carried_m) * part
                values[f"solid_{i}.vertex_positions"] = there.astype(np.float32).ravel()
        values.update()


def _until(times: np.ndarray) -> np.ndarray:
    """How much of a moment's weight lies before a time, in steps from it: it falls evenly to
    nothing at the moments beside it."""
    low, high = np.clip(times + 1.0, 0.0, 1.0), np.clip(times, 0.0, 1.0)
    found: np.ndarray = low**2 / 2.0 + high - high**2 / 2.0
    return found


def _layers(mean: np.ndarray, noise: np.ndarray) -> Layers:
    if mean.shape[-1] < 10:
        mean = np.concatenate([mean, np.zeros((*mean.shape[:2], 7), np.float32)], axis=-1)
    return Layers(mean[..., :3], noise, mean[..., 3:6], mean[..., 6:9], mean[..., 9])


def matte(scene: Scene, of: frozenset[str], width: int, height: int, samples: int = 16) -> Any:
    """How much of each pixel (h, w) shows what belongs to `of`, blur included, 0..1."""
    # What is kept is white and all else black: the colour of what is seen first is the matte.
    told = tuple(
        replace(s, reflectance=(1.0, 1.0, 1.0) if s.of in of else (0.0, 0.0, 0.0))
        for s in scene.solids
    )
    bare = replace(scene, solids=told, sky=None)
    return Stage(bare, width, height, bounces=0).seen(samples, passes=1).colour[..., 0]
