"""What the planner may vary for one plate, and what a person wishes of the answer."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from ..judging.flicker import safe_angle
from ..plan.kit import Body, Lens, Mode
from ..plan.on_side import mode_for
from ..plan.plate import BUILT, Plate
from ..plan.shot import Shot
from ..plan.views import seen_from_own
from ..stage.rates import needed_fps

#: Full stops as engraved; the plate's own stop is always tried as well.
STOPS = (1.4, 2.0, 2.8, 4.0, 5.6, 8.0, 11.0, 16.0, 22.0)
#: Usual model scales, and how many to each side of the plate's own are tried.
SCALES = (2.0, 3.0, 4.0, 6.0, 8.0, 10.0, 12.0, 16.0, 20.0, 24.0, 32.0, 48.0, 64.0)
SCALES_EACH_SIDE = 2
MOST_PASSES = 3
#: A fifth slower still passes as natural motion, and saves light.
SLOWER = 1.0 / 1.19


@dataclass(frozen=True)
class Setup:
    """One body in one mode with one lens."""

    body: Body
    mode: Mode
    lens: Lens

    @property
    def borrowed(self) -> bool:
        """Whether any of it is not owned."""
        return self.body.loan.borrowed or self.lens.loan.borrowed


@dataclass(frozen=True)
class Wishes:
    """What counts, from 0 (not at all) to 3 (most): picture quality, few changes from how the shot
    is set up now, little light. `own_only` leaves borrowed things out."""

    quality: float = 1.0
    changes: float = 1.0
    light: float = 1.0
    own_only: bool = False
    keep_scale: bool = False


@dataclass(frozen=True)
class Space:
    """The axes of the search; the candidates are all their combinations."""

    setups: tuple[Setup, ...]
    scales: tuple[float, ...]
    slowdowns: tuple[float, ...] = (1.0,)
    shutters: tuple[float, ...] = (180.0,)
    stops: tuple[float, ...] = STOPS
    isos: tuple[float, ...] = (800.0,)
    passes: tuple[int, ...] = (1,)
    #: Fixed rate instead of the derived one, for judging a plate exactly as it stands.
    capture_fps: float | None = field(default=None)

    @property
    def shape(self) -> tuple[int, ...]:
        """Setups, scales, slowdowns, shutters, stops, ISOs, passes."""
        return (
            len(self.setups),
            len(self.scales),
            len(self.slowdowns),
            len(self.shutters),
            len(self.stops),
            len(self.isos),
            len(self.passes),
        )


def setups(shot: Shot, own_only: bool = False) -> tuple[Setup, ...]:
    """Every body, mode and lens of the kit together."""
    found = (
        Setup(body, mode, lens)
        for body in shot.kit.bodies
        for mode in body.modes
        for lens in shot.kit.lenses
    )
    return tuple(s for s in found if not (own_only and s.borrowed))


def setups_of(plate: Plate, found: tuple[Setup, ...]) -> tuple[Setup, ...]:
    """Setups as the camera of a plate stands with them, on its side or not."""
    if not plate.on_side:
        return found
    return tuple(replace(s, mode=mode_for(plate, s.mode)) for s in found)


def space_for(
    shot: Shot, plate: Plate, wishes: Wishes, known: tuple[Setup, ...] | None = None
) -> Space:
    """The usual search for `plate`: its own values are always among those tried. `known` spares
    the setups being listed for every plate of a shot."""
    shot = seen_from_own(shot, plate)
    slow = plate.motion == "gravity" and needed_fps(shot, plate) > 0
    return Space(
        setups=setups_of(plate, setups(shot, wishes.own_only) if known is None else known),
        scales=(plate.scale,) if wishes.keep_scale else _scales(plate),
        slowdowns=(1.0, SLOWER) if slow else (1.0,),
        shutters=_shutters(shot, plate),
        stops=tuple(sorted({*STOPS, plate.f_number})),
        isos=_isos(shot, plate),
        passes=tuple(sorted({*range(1, MOST_PASSES + 1), plate.focus_passes})),
    )


def _scales(plate: Plate) -> tuple[float, ...]:
    if plate.kind not in BUILT or plate.scale <= 1.0:
        return (plate.scale,)
    larger = [s for s in SCALES if s < plate.scale][-SCALES_EACH_SIDE:]
    smaller = [s for s in SCALES if s > plate.scale][:SCALES_EACH_SIDE]
    return (*larger, plate.scale, *smaller)


def _shutters(shot: Shot, plate: Plate) -> tuple[float, ...]:
    found = {plate.shutter_deg, shot.world.shutter_deg}
    room = shot.kit.room(plate.room_id)
    if room is not None and room.mains_hz is not None:
        safe = safe_angle(needed_fps(shot, plate), room.mains_hz, shot.world.shutter_deg)
        if safe is not None:
            found.add(round(safe, 2))
    return tuple(sorted(found))


def _isos(shot: Shot, plate: Plate) -> tuple[float, ...]:
    """Doublings from the lowest base ISO owned to the highest ISO, and the plate's own."""
    modes = [m for b in shot.kit.bodies for m in b.modes]
    found = {plate.iso, *(m.base_iso for m in modes)}
    if modes:
        iso, most = min(m.base_iso for m in modes), max(m.max_iso for m in modes)
        while iso <= most and len(found) < 12:
            found.add(iso)
            iso *= 2.0
    return tuple(sorted(found))
