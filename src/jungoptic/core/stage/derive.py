"""From the world camera to a stage camera: what one plate needs, as numbers for a tape measure.

The stage camera keeps the world camera's angle of view and angles; every distance and height is
divided by the scale: perspective is kept by distance, never by focal length.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from .. import exposure, mirror, optics, thin_lens
from ..camera import Camera
from ..impossible import Impossible
from ..plan.kit import Body, Kit, Lens, Mode
from ..plan.mirrored import placed_for
from ..plan.on_side import mode_for
from ..plan.plate import Plate
from ..plan.shot import Shot
from .focal import matching_focal_mm
from .in_frame import End, sharp_range
from .rates import needed_fps, on_set_s

#: Where the front rim is taken to be when a lens does not say: this far before the thin lens.
ASSUMED_FRONT_M = 0.040


@dataclass(frozen=True)
class Choice:
    """Body, mode and lens of a plate, found in the kit."""

    body: Body
    mode: Mode
    lens: Lens


@dataclass(frozen=True)
class Stage:
    """Everything derived for one plate. Metres on the stage unless a name says otherwise."""

    plate: Plate
    choice: Choice
    # where the camera stands
    ideal_axis_m: float
    floor_axis_m: float
    axis_m: float
    tilt_deg: float
    # glass: what the ring says, and what that is worth
    marked_mm: float
    focal_mm: float
    pinhole_mm: float
    magnification: float
    focus_m: float
    focus_tape_m: float
    sensor_to_pupil_m: float
    sensor_to_front_m: float
    front_assumed: bool
    pupil_assumed: bool
    # view: the part that the widest takes of the sensor, and pixels and blur in the tightest
    crop_across: float
    crop_down: float
    pixels_across: float
    coc_mm: float
    # depth
    near_m: float | None
    far_m: float | None
    #: What is nearest and farthest of all that must be sharp, and when.
    ends: tuple[End, End] | None
    passes: tuple[optics.FocusPass, ...]
    # time and light
    needed_fps: float
    capture_fps: float
    exposure_s: float
    set_duration_s: float
    effective_f_number: float
    light_stop: float
    airy_mm: float
    #: Light at the action, at the level of the story's key against a normal exposure.
    lux_needed: float
    #: The camera as built, its picture cropped to the delivered view of the first frame, metres.
    camera: Camera
    #: Width of the sensor that the tightest view of the shot uses.
    tightest_mm: float

    @property
    def scale(self) -> float:
        """The plate's scale denominator."""
        return self.plate.scale

    @property
    def focus_front_m(self) -> float:
        """Focus distance as a tape from the lens front shows it."""
        return self.focus_tape_m - self.sensor_to_front_m

    @property
    def mark_height_m(self) -> float:
        """The lens axis above this stage's ground at the sensor mark, where a tape can reach."""
        return self.axis_m - self.sensor_to_pupil_m * math.sin(math.radians(self.tilt_deg))

    @property
    def front_height_m(self) -> float:
        """The same at the lens front."""
        ahead = self.sensor_to_front_m - self.sensor_to_pupil_m
        return self.axis_m + ahead * math.sin(math.radians(self.tilt_deg))

    @property
    def front_level_m(self) -> float:
        """From the sensor mark to the lens front, level."""
        return self.sensor_to_front_m * math.cos(math.radians(self.tilt_deg))

    @property
    def mark_behind_m(self) -> tuple[float, float]:
        """How far the sensor mark lies to the left of and behind the entrance pupil as the shot
        begins, on the floor, along the stage's own line ahead."""
        level = self.sensor_to_pupil_m * math.cos(math.radians(self.tilt_deg))
        pan = math.radians(self.camera.pan_deg)
        return level * math.sin(pan), level * math.cos(pan)

    @property
    def depth_near_m(self) -> float:
        """Nearest sharp object distance over all focus passes."""
        return min(p.near_m for p in self.passes)

    @property
    def depth_far_m(self) -> float:
        """Farthest sharp object distance over all focus passes; may be inf."""
        return max(p.far_m for p in self.passes)


def choose(kit: Kit, plate: Plate) -> Choice | None:
    """Body, mode and lens of `plate`; None while any of them is missing."""
    body = next((b for b in kit.bodies if b.id == plate.body_id), None)
    lens = next((x for x in kit.lenses if x.id == plate.lens_id), None)
    if body is None or lens is None:
        return None
    mode = next((m for m in body.modes if m.id == plate.mode_id), None)
    return None if mode is None else Choice(body, mode_for(plate, mode), lens)


def depth_range_m(shot: Shot, plate: Plate, camera: Camera) -> tuple[float, float] | None:
    """Nearest and farthest distance along the axis of the stage `camera` that must be sharp, over
    the whole shot, stage metres; None where nothing of the plate is ever in frame."""
    return _on_stage(sharp_range(shot, plate, camera), plate)


def _on_stage(ends: tuple[End, End] | None, plate: Plate) -> tuple[float, float] | None:
    return None if ends is None else (ends[0].world_m / plate.scale, ends[1].world_m / plate.scale)


def focal_for(shot: Shot, plate: Plate, choice: Choice, focus_m: float) -> float:
    """The focal length in use: the prime's, the one set, or the one that matches (zoom); as it
    was measured, where it was."""
    lens = choice.lens
    low, high = lens.worth_mm(lens.focal_min_mm), lens.worth_mm(lens.focal_max_mm)
    if not lens.is_zoom:
        return low
    if plate.focal_mm:
        wanted = lens.worth_mm(plate.focal_mm)
    else:
        wanted = matching_focal_mm(shot, choice.mode, focus_m, lens.pupil_ratio)
    return min(max(wanted, low), high)


def focus_distance_m(plate: Plate, near_far: tuple[float, float] | None) -> float:
    """Stage object distance to focus at: the one decided, else best for near..far, else inf."""
    if plate.focus_world_m is not None:
        return plate.focus_world_m / plate.scale
    return math.inf if near_far is None else optics.best_focus_m(*near_far)


def _focused_together(
    shot: Shot, plate: Plate, camera: Camera, own: tuple[float, float] | None
) -> tuple[float, float] | None:
    """Nearest and farthest that the passes of a lock-off must have sharp with one focus, metres on
    the stage: of a plate by itself, and of a pass that is there for its focus, its `own`."""
    alone = not plate.lock_group or plate.pass_for == "focus" or shot.old_rules
    if alone or plate.focus_world_m is not None:
        return own
    others = (p for p in shot.plates if p.lock_group == plate.lock_group and p.pass_for != "focus")
    ends = [own if p.id == plate.id else depth_range_m(shot, p, camera) for p in others]
    known = [e for e in ends if e is not None]
    return (min(e[0] for e in known), max(e[1] for e in known)) if known else None


def pupil_to_front_m(lens: Lens) -> float:
    """From the entrance pupil to the front rim; assumed when the lens does not say."""
    if lens.length_mm is None or lens.pupil_from_mount_mm is None:
        return ASSUMED_FRONT_M
    return (lens.length_mm - lens.pupil_from_mount_mm) / 1000.0


def mirror_for(shot: Shot, plate: Plate, choice: Choice) -> mirror.MirrorNeed | None:
    """The mirror this plate's view needs; None when it is too wide for one."""
    widest = shot.world.focal_mm * shot.move.widest
    half = shot.world.sensor_width_mm / shot.delivery.aspect / 2.0 / widest
    half *= 1.0 + 2.0 * shot.padding
    # Wide open: one mirror serves every stop.
    radius = focal_for(shot, plate, choice, math.inf) / choice.lens.widest_stop / 2.0 / 1000.0
    try:
        return mirror.mirror_need(half, pupil_to_front_m(choice.lens), radius)
    except Impossible:
        return None


def floor_axis_m(shot: Shot, plate: Plate, choice: Choice) -> float:
    """The lowest lens axis above this stage's ground: body and support, let down by what the base
    sits below the ground, or the middle of the mirror it films by."""
    lowest = choice.body.axis_height_mm / 1000.0 - plate.drop_m
    if plate.mirror:
        need = mirror_for(shot, plate, choice)
        if need is not None:
            lowest = min(lowest, need.floor_m)
    return lowest


def derive(
    shot: Shot, plate: Plate, choice: Choice, *, pinhole_for_crop_mm: float | None = None
) -> Stage:
    """All numbers of one plate's stage with `choice` in hand.

    `pinhole_for_crop_mm` fixes the crop to another camera's (a logged take is judged with the
    crop that was planned). Raises Impossible when the focus lies inside the focal length.
    """
    shot = placed_for(shot, plate)
    world = shot.world
    ideal_axis = (world.height_m - plate.ground_m) / plate.scale
    floor_axis = floor_axis_m(shot, plate, choice)
    axis = plate.axis_height_m if plate.axis_height_m is not None else max(ideal_axis, floor_axis)
    camera = Camera(
        sensor_width_mm=world.sensor_width_mm,
        sensor_height_mm=world.sensor_width_mm / shot.delivery.aspect,
        focal_mm=world.focal_mm,
        position_m=(0.0, -plate.setback_m, axis),
        pan_deg=world.pan_deg,
        tilt_deg=plate.tilt_deg if plate.tilt_deg is not None else world.tilt_deg,
        roll_deg=world.roll_deg,
    )
    ends = sharp_range(shot, plate, camera)
    near_far = _on_stage(ends, plate)
    focus_m = focus_distance_m(plate, _focused_together(shot, plate, camera, near_far))
    focal = focal_for(shot, plate, choice, focus_m)
    ratio = choice.lens.pupil_ratio
    m = optics.magnification(focal, focus_m, ratio)
    pinhole = thin_lens.pinhole(focal, m, ratio)

    # Seen through the world camera, the delivered picture takes this much of the sensor.
    crop_pinhole = pinhole_for_crop_mm or pinhole
    used_width = world.sensor_width_mm * crop_pinhole / world.focal_mm
    used_height = used_width / shot.delivery.aspect
    # A zoom in post is cut from its widest view, and is coarsest and softest at its tightest.
    widest, tightest = used_width / shot.move.widest, used_width / shot.move.tightest
    crop_across = widest / choice.mode.sensor_width_mm
    crop_down = widest / shot.delivery.aspect / choice.mode.sensor_height_mm
    coc = optics.coc_from_delivery_mm(tightest, shot.delivery.width_px)

    near, far = near_far if near_far is not None else (None, None)
    passes = _passes(plate, focal, focus_m, near, far, coc, ratio)

    needed = needed_fps(shot, plate)
    capture = plate.capture_fps or min(needed, choice.mode.max_fps)
    time_s = exposure.exposure_s(capture, plate.shutter_deg)
    effective = optics.effective_f_number(plate.f_number, m, ratio)
    light_stop = exposure.light_stop(plate.f_number, m, ratio, choice.lens.t_over_f, plate.nd_stops)

    pupil = choice.lens.pupil_from_mount_mm
    # One without thickness has its principal plane one image distance before the sensor, and its
    # pupil f (1 - 1 / P) before that; a real one says where.
    thin = focal * (1.0 + m) + focal * (1.0 - 1.0 / ratio)
    sensor_to_pupil = (thin if pupil is None else choice.body.flange_mm + pupil) / 1000.0
    known = choice.lens.length_mm is not None
    sensor_to_front = (
        (choice.body.flange_mm + (choice.lens.length_mm or 0.0)) / 1000.0
        if known
        else sensor_to_pupil + ASSUMED_FRONT_M
    )
    return Stage(
        plate=plate,
        choice=choice,
        ideal_axis_m=ideal_axis,
        floor_axis_m=floor_axis,
        axis_m=axis,
        tilt_deg=camera.tilt_deg,
        marked_mm=choice.lens.marked_mm(focal),
        focal_mm=focal,
        pinhole_mm=pinhole,
        magnification=m,
        focus_m=focus_m,
        focus_tape_m=focus_m + sensor_to_pupil,
        sensor_to_pupil_m=sensor_to_pupil,
        sensor_to_front_m=sensor_to_front,
        front_assumed=not known,
        pupil_assumed=pupil is None,
        crop_across=crop_across,
        crop_down=crop_down,
        pixels_across=choice.mode.width_px * min(crop_across, 1.0) / shot.move.closes,
        coc_mm=coc,
        near_m=near,
        far_m=far,
        ends=ends,
        passes=passes,
        needed_fps=needed,
        capture_fps=capture,
        exposure_s=time_s,
        set_duration_s=on_set_s(shot, plate),
        effective_f_number=effective,
        light_stop=light_stop,
        airy_mm=optics.airy_disc_mm(effective),
        lux_needed=exposure.illuminance_lux(light_stop, time_s, plate.iso)
        * 2.0**shot.key_level_stops,
        camera=replace(
            camera, sensor_width_mm=used_width, sensor_height_mm=used_height, focal_mm=pinhole
        ),
        tightest_mm=tightest,
    )


def _passes(
    plate: Plate,
    focal: float,
    focus_m: float,
    near: float | None,
    far: float | None,
    coc: float,
    ratio: float,
) -> tuple[optics.FocusPass, ...]:
    """The focus passes of a plate: one at its focus, or the evenly spaced set it asks for."""
    if plate.focus_passes > 1 and near is not None and far is not None:
        wanted = optics.focus_passes(focal, plate.f_number, near, far, coc, ratio)
        if len(wanted) <= plate.focus_passes:
            return tuple(wanted)
        # Too few to cover: spread those there are evenly in dioptres and let the finding say so.
        places = (np.arange(plate.focus_passes) + 0.5) / plate.focus_passes
        dioptres = 1.0 / near + (1.0 / far - 1.0 / near) * places
        return tuple(_one_pass(plate, focal, float(1.0 / d), coc, ratio) for d in dioptres)
    return (_one_pass(plate, focal, focus_m, coc, ratio),)


def _one_pass(
    plate: Plate, focal: float, focus_m: float, coc: float, ratio: float
) -> optics.FocusPass:
    depth = optics.depth_of_field(focal, plate.f_number, focus_m, coc, ratio)
    return optics.FocusPass(focus_m, depth.near_m, depth.far_m)


def floor_tape_m(stage: Stage, distance_m: float) -> float:
    """Floor distance from below the sensor mark to something `distance_m` ahead of the origin,
    straight along the stage's own line ahead: a panned camera's mark lies beside its pupil."""
    return distance_m + stage.plate.setback_m + stage.mark_behind_m[1]
