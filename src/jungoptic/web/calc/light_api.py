"""Light, sun and screens: calculators without memory, and what leaves as a file."""

from __future__ import annotations

import datetime
import io
import uuid
from typing import Annotated, Any, Literal

import numpy as np
from django.http import HttpRequest, HttpResponse
from icalendar import Calendar, Event
from ninja import Query, Router
from PIL import Image
from pydantic import BaseModel

from jungoptic.core.cost.effort import Job
from jungoptic.core.cost.shapes import shapes_of
from jungoptic.core.cost.work import Work
from jungoptic.core.impossible import Impossible
from jungoptic.core.plan import Room, ScreenColour, Shot
from jungoptic.core.planner.place_lamps import Proposal, light_plate
from jungoptic.core.screens.backdrops import Backdrop, backdrops
from jungoptic.core.screens.codecs import CHROMA_STEP
from jungoptic.core.screens.hair import example
from jungoptic.core.sky.day import SunDay, skyline, sun_day, zone_of
from jungoptic.core.sky.nightly import NightPlan, night_plan
from jungoptic.core.sky.windows import LightWindows, light_windows
from jungoptic.core.stage.case import Case
from jungoptic.core.words import quantities as say

from ..permissions import Verb, enter
from ..records import Refused
from ..schemas import Within
from .api import PlateQuestion, case_or_refused, stored_plate

router = Router(tags=["calculators"])
files = Router(tags=["plans"])
PLATE = "/{uuid:production_id}/shots/{uuid:pk}/plates/{uuid:plate_id}"


# --- lamps -------------------------------------------------------------------------------------


@router.post("/light-plate", response=list[Proposal])
def propose_light(request: HttpRequest, payload: PlateQuestion) -> Any:
    """Places for the lamps owned that give the story's light on one plate. Nothing is stored."""
    shot, plate = payload.shot_and_plate()
    with say.written_in(payload.notation.core()):
        return list(light_plate(case_or_refused(shot, plate)))


# --- sky ---------------------------------------------------------------------------------------


class SkyQuestion(PlateQuestion):
    """One plate under the sky of its room, or of another, on a day and for some days from it."""

    room_id: uuid.UUID | None = None
    date: datetime.date
    days: Annotated[int, Within(1, 400)] = 120
    elevation_deg: Annotated[float, Within(0.5, 89)] | None = None
    tolerance_deg: Annotated[float, Within(0.5, 20)] = 3.0
    under_stops: Annotated[float, Within(0, 6)] = 2.0
    white_k: Annotated[float, Within(1500, 20_000)] = 3400.0


class SkyAnswer(BaseModel):
    """The sun of a place. Times are seconds since 1970 UTC; `offset_s`: the place's clock on that
    day. `looked_for_deg`: the height that the windows match, null without one."""

    room_id: uuid.UUID
    room: str
    latitude_deg: float
    longitude_deg: float
    time_zone: str
    offset_s: int
    day: SunDay
    skyline: list[tuple[float, float]]
    looked_for_deg: float | None
    side_deg: float | None
    fixed_deg: float | None
    windows: LightWindows | None
    night: NightPlan | None


def _place(shot: Shot, room_id: str | None) -> Room:
    room = shot.kit.room(room_id)
    if room is None:
        raise Refused("room_id", "Choose a place with open sky first.")
    if room.latitude_deg is None or room.longitude_deg is None:
        raise Refused(
            "room_id", f"{room.name} has no latitude and longitude yet: give them in the kit."
        )
    return room


@router.post("/sky", response=SkyAnswer)
def look_at_sky(request: HttpRequest, payload: SkyQuestion) -> Any:
    """The sun's day, the windows in which it matches the story, and day for night. Nothing is
    stored."""
    shot, plate = payload.shot_and_plate()
    room = _place(shot, str(payload.room_id) if payload.room_id else plate.room_id)
    wanted = payload.elevation_deg
    if wanted is None and shot.key_elevation_deg is not None and shot.key_elevation_deg > 0:
        wanted = shot.key_elevation_deg
    try:
        day = sun_day(room, payload.date)
        windows = None
        if wanted is not None:
            windows = light_windows(
                room,
                payload.date,
                payload.days,
                wanted,
                shot.key_from_deg,
                plate.heading_deg,
                payload.tolerance_deg,
            )
    except Impossible as error:
        raise Refused("date", f"{error}") from error
    noon = datetime.datetime.combine(payload.date, datetime.time(12), zone_of(room))
    offset = noon.utcoffset() or datetime.timedelta()
    with say.written_in(payload.notation.core()):
        try:
            case = Case.of(shot, plate)
        except Impossible:
            case = None
        # Without body and lens there is no stop to bring the sun down to; the sun stands anyway.
        night = None if case is None else night_plan(case, payload.under_stops, payload.white_k)
    return SkyAnswer(
        room_id=uuid.UUID(room.id),
        room=room.name,
        latitude_deg=room.latitude_deg or 0.0,
        longitude_deg=room.longitude_deg or 0.0,
        time_zone=room.time_zone,
        offset_s=int(offset.total_seconds()),
        day=day,
        skyline=list(skyline(room)),
        looked_for_deg=wanted,
        side_deg=shot.key_from_deg,
        fixed_deg=plate.heading_deg,
        windows=windows,
        night=night,
    )


@files.get(PLATE + "/windows.ics", response=bytes)
def windows_calendar(
    request: HttpRequest,
    production_id: uuid.UUID,
    pk: uuid.UUID,
    plate_id: uuid.UUID,
    date: datetime.date,
    days: Annotated[int, Within(1, 400)] = 120,
    room_id: uuid.UUID | None = None,
    elevation_deg: Annotated[float, Within(0.5, 89)] | None = None,
    tolerance_deg: Annotated[float, Within(0.5, 20)] = 3.0,
) -> HttpResponse:
    """The light-match windows of a stored plate, here or elsewhere, as a calendar (RFC 5545)."""
    production = enter(request, production_id, Verb.VIEW)
    stored, shot, plate = stored_plate(production, pk, plate_id)
    room = _place(shot, str(room_id) if room_id else plate.room_id)
    wanted = shot.key_elevation_deg if elevation_deg is None else elevation_deg
    if wanted is None or wanted <= 0:
        raise Refused("key_elevation_deg", "Say how high the story's key stands first.")
    try:
        found = light_windows(
            room, date, days, wanted, shot.key_from_deg, plate.heading_deg, tolerance_deg
        )
    except Impossible as error:
        raise Refused("date", f"{error}") from error
    calendar = Calendar()
    calendar.add("prodid", "-//Jungoptic//Light-match windows//EN")
    calendar.add("version", "2.0")
    zone = zone_of(room)
    for window in found.found:
        event = Event()
        start = datetime.datetime.fromtimestamp(window.start, zone)
        event.add("uid", f"{plate.id}-{int(window.start)}@jungoptic")
        event.add("dtstamp", datetime.datetime.fromtimestamp(window.start, datetime.UTC))
        event.add("dtstart", start.astimezone(datetime.UTC))
        end = datetime.datetime.fromtimestamp(window.end, datetime.UTC)
        event.add("dtend", end)
        event.add("summary", f"{stored.number} {plate.name}: sun {wanted:.0f}\u00b0 up")
        event.add("location", room.name)
        event.add(
            "description",
            f"Camera to {window.heading_deg:.0f}\u00b0 from north"
            + (f", turning {window.turn_deg:+.0f}\u00b0 with the sun" if window.turn_deg else "")
            + f". Sun at {window.azimuth_deg:.0f}\u00b0, {window.elevation_deg:.1f}\u00b0 up in "
            "the middle. Whether it shines is the weather's.",
        )
        calendar.add_component(event)
    response = HttpResponse(calendar.to_ical(), content_type="text/calendar; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="light-windows.ics"'
    return response


# --- screens -----------------------------------------------------------------------------------


@router.get("/recording-example.png", response=bytes)
def recording_example(
    request: HttpRequest,
    screen: ScreenColour = "green",
    bit_depth: Annotated[int, Within(8, 16)] = 8,
    subsampling: Literal["4:4:4", "4:2:2", "4:2:0"] = "4:2:0",
    finer: Annotated[int, Within(1, 2)] = 1,
) -> HttpResponse:
    """The project's own picture of hair over a screen as one mode records it, and beside it the
    matte pulled from that."""
    made = example(screen, bit_depth, subsampling, finer)
    matte = np.repeat(made.matte[..., None] * 255.0, 3, axis=2)
    both = np.concatenate([made.picture, matte], axis=1)
    image = Image.fromarray(np.clip(np.round(both), 0, 255).astype(np.uint8))
    out = io.BytesIO()
    image.resize((image.width * 2, image.height * 2), Image.Resampling.NEAREST).save(out, "PNG")
    response = HttpResponse(out.getvalue(), content_type="image/png")
    response["Cache-Control"] = "private, max-age=86400"
    return response


class ExampleError(BaseModel):
    """How far the matte is from the true one along the edge, root mean square, 0..1."""

    bit_depth: int
    subsampling: str
    finer: int
    error: float


@router.get("/recording-errors", response=list[ExampleError])
def recording_errors(
    request: HttpRequest,
    modes: Annotated[list[str], Query(max_length=24)],
    screen: ScreenColour = "green",
) -> Any:
    """The error of the made example for several modes, each as `10 4:2:2`, and `10 4:2:2 2` where
    it records twice as fine as it is delivered."""
    answers = []
    for mode in modes:
        depth, subsampling, finer = [*mode.split(" "), "", "", ""][:3]
        finer = finer or "1"
        if (
            subsampling not in CHROMA_STEP
            or depth not in map(str, range(8, 17))
            or finer not in ("1", "2")
        ):
            raise Refused("modes", f"{mode!r} is not a mode: write it as 10 4:2:2.")
        made = example(screen, int(depth), subsampling, int(finer))
        answers.append(
            ExampleError(
                bit_depth=int(depth), subsampling=subsampling, finer=int(finer), error=made.error
            )
        )
    return answers


@router.post("/backdrops", response=list[Backdrop])
def cost_of_backdrops(request: HttpRequest, payload: PlateQuestion) -> Any:
    """Hours of a key, of cutting out by hand and of backdrops that are found, for one plate."""
    plate = next((p for p in payload.plates if p.id == payload.plate_id), None)
    if plate is None:
        raise Refused("plate_id", "This plate is not in the plan.")
    job = Job(
        id=str(plate.id),
        name=plate.name,
        kind=plate.kind,
        work=Work(
            plate.cut,
            plate.shapes or shapes_of(s for s in payload.stand_ins if s.plate_id == plate.id),
            plate.paint_share,
            plate.tracked,
            plate.takes_planned,
        ),
        seconds=payload.seconds_of(plate),
        fps=payload.shot.playback_fps,
        key_every=plate.key_every,
        keying=plate.keying,
        hold=plate.hold,
    )
    return list(backdrops(job))
