"""Shots as somebody new to it might plan them: close-ups, pans, walks towards the lens, things that
come into frame later, never, or stand behind the camera."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import strategies as st

from jungoptic.core.plan import Delivery, Move, Plate, Shot, WorldCamera
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.plan.tricks import RampKey

from .stages import placed
from .test_planner import GRIP, MANY

ANGLES = st.floats(-180.0, 180.0)


@st.composite
def things(draw: st.DrawFn, name: str, plates: tuple[str | None, ...]) -> StandIn:
    """A thing anywhere about the camera, still or on its way."""
    kind = draw(st.sampled_from(["figure", "figure", "box", "card", "ground"]))
    wide = draw(st.sampled_from([0.1, 0.5, 2.0, 20.0])) if kind != "figure" else 0.5
    return StandIn(
        name,
        name.title(),
        kind,
        draw(st.floats(-6.0, 6.0)),
        draw(st.one_of(st.floats(0.3, 4.0), st.floats(-5.0, 40.0))),
        draw(st.sampled_from([0.0, 0.0, 0.9, -0.4])),
        wide,
        draw(st.floats(0.05, 3.0)),
        draw(st.sampled_from([0.0, 0.3, 6.0])),
        draw(st.sampled_from([0.0, 0.0, 30.0, 90.0])),
        draw(st.sampled_from(plates)),
        draw(st.sampled_from([0.0, 0.0, 1.2, 6.0])),
        draw(ANGLES),
        reach_m=draw(st.sampled_from([0.0, 0.4])),
        matters=draw(st.sampled_from(["full", "full", "full", "soft", "scenery", "none"])),
    )


@st.composite
def moves(draw: st.DrawFn) -> Move:
    """A camera that stands, pushes, pans, cranes, or all at once; and what zooms meanwhile."""
    zoom = draw(st.sampled_from([1.0, 1.0, 1.0, 3.0, 0.5]))
    return replace(draw(_ways()), zoom=zoom)


@st.composite
def _ways(draw: st.DrawFn) -> Move:
    kind = draw(st.sampled_from(["stand", "stand", "push", "pan", "any"]))
    if kind == "stand":
        return Move()
    if kind == "push":
        return Move(away_m=draw(st.floats(-3.0, 6.0)), ease=draw(st.sampled_from(["even", "both"])))
    if kind == "pan":
        return Move(pan_deg=draw(st.floats(-120.0, 120.0)))
    far = st.floats(-3.0, 3.0)
    return Move(
        draw(far), draw(far), draw(st.floats(0.0, 3.0)), draw(ANGLES), draw(st.floats(-30, 30))
    )


@st.composite
def any_shots(draw: st.DrawFn, *, plates: int = 2) -> Shot:
    """A whole shot with its plates, decided at random within what the forms accept."""
    ids = [f"p{i}" for i in range(draw(st.integers(1, plates)))]
    found = []
    for name in ids:
        kind = draw(st.sampled_from(["miniature", "screen", "live", "puppet", "element", "still"]))
        found.append(
            Plate(
                name,
                name.upper(),
                kind,
                scale=draw(st.sampled_from([1.0, 1.0, 6.0, 12.0, 48.0])),
                ground_m=draw(st.sampled_from([0.0, 0.0, 1.5])),
                body_id="cinema",
                mode_id="4k",
                lens_id=draw(st.sampled_from([lens.id for lens in MANY.lenses])),
                f_number=draw(st.sampled_from([2.0, 5.6, 16.0])),
                focus_passes=draw(st.sampled_from([1, 1, 3])),
                focus_world_m=draw(st.sampled_from([None, None, 3.0])),
                motion=draw(st.sampled_from(["still", "powered", "gravity"])),
                axis_height_m=draw(st.sampled_from([None, None, 0.3])),
                tilt_deg=draw(st.sampled_from([None, None, 10.0])),
                setback_m=draw(st.sampled_from([0.0, 0.0, 0.3])),
                screen_width_m=draw(st.sampled_from([0.0, 3.0])),
                screen_height_m=draw(st.sampled_from([0.0, 3.0])),
                screen_gap_m=draw(st.sampled_from([0.0, 2.0])),
                lamps=draw(
                    st.sampled_from(
                        [(), (placed(x=0.6, y=0.2, z=1.8),), (placed("fresnel", -1.0, 0.8, 0.9),)]
                    )
                ),
                room_id=draw(st.sampled_from([None, "garage", "yard"])),
                flop=draw(st.sampled_from([False, False, True])),
                cut=draw(st.sampled_from(["none", "key", "roto", "split"])),
                placed_in_post=draw(st.sampled_from([False, False, False, True])),
                placed_from_m=draw(st.sampled_from([None, None, 4.0])),
                walks_on_set=draw(st.sampled_from([False, True])),
            )
        )
    owners = (*ids, *ids, None)
    count = draw(st.integers(0, 4))
    return Shot(
        delivery=draw(
            st.sampled_from(
                [Delivery(1920, 804, 24.0), Delivery(1920, 1080, 25.0), Delivery(1080, 1920, 25.0)]
            )
        ),
        world=WorldCamera(
            24.9,
            draw(st.sampled_from([12.0, 24.0, 50.0, 200.0])),
            draw(st.floats(0.05, 6.0)),
            draw(st.one_of(st.just(0.0), st.floats(-50.0, 50.0))),
            draw(st.one_of(st.just(0.0), ANGLES)),
            draw(st.sampled_from([0.0, 0.0, 12.0, 90.0])),
        ),
        screen_time_s=draw(st.sampled_from([0.04, 0.5, 2.0])),
        story_speed=draw(st.sampled_from([1.0, 1.0, 0.25, 4.0])),
        story_speed_keys=draw(st.sampled_from([(), (), (RampKey(5, 0.5), RampKey(9, 2.0))])),
        stand_ins=tuple(draw(things(f"thing {i}", owners)) for i in range(count)),
        plates=tuple(found),
        kit=draw(st.sampled_from([MANY, GRIP])),
        move=_within(draw(moves())),
        padding=draw(st.sampled_from([0.0, 0.1])),
        key_kind=draw(st.sampled_from(["", "sun"])),
        key_from_deg=draw(st.sampled_from([None, 40.0])),
        key_elevation_deg=draw(st.sampled_from([None, 35.0])),
        key_size_deg=draw(st.sampled_from([None, 6.0])),
    )


def _within(move: Move) -> Move:
    """No tilt past straight up or down, whatever the camera's own is."""
    return replace(move, tilt_deg=max(min(move.tilt_deg, 30.0), -30.0))
