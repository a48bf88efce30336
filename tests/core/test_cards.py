"""Set cards: every number on them worked out here by hand, and the checklist of each kind."""

from __future__ import annotations

import datetime
from dataclasses import replace

import pytest

from jungoptic.core.cards.card import card_lines, checklist
from jungoptic.core.cards.trick_card import trick_lines, trick_marks
from jungoptic.core.plan import Move, PlacedLamp
from jungoptic.core.plan.cue import Cue
from jungoptic.core.plan.standins import StandIn
from jungoptic.core.plan.tricks import Beat, Markers, Rig, Throw
from jungoptic.core.report.shot_report import plate_report
from jungoptic.core.stage.case import Case

from .examples import ANSA, KIT, MILL, STILLS
from .stages import case_of, one
from .twins import UPRIGHT, changed, twins
from .twins import case_of as twin

Told = dict[str, tuple[str, str]]


def told(case: Case, group: str) -> Told:
    """Value and word of every line of one group, by label."""
    lines = card_lines(case, plate_report(case.shot, case.plate))
    return {line.label: (line.value, line.detail) for line in lines if line.group == group}


class TestWhereTheCameraStands:
    def test_table_base_room_and_mirror(self):
        case = case_of(
            one(
                MILL,
                plate_table_m=0.8,
                plate_drop_m=0.05,
                plate_mirror=True,
                plate_room_id="garage",
                plate_room_turned=True,
            )
        )
        lines = told(case, "Camera stands")
        # 1.5 m of the story at 1:12, less what the mark lies lower than the pupil: 29 mm sin 3°.
        assert lines["Lens axis height"] == (
            "124 mm",
            "at the sensor mark, above the model's ground",
        )
        assert lines["Table top"] == ("800 mm", "above the floor")
        assert lines["Camera base"] == ("50.0 mm", "below the model's ground")
        assert lines["Room"] == ("Garage", "turned across")
        assert "first surface" in lines["Mirror at 45°"][1]
        assert lines["Tilt"] == ("3.0°", "up")

    def test_a_move_is_told_in_the_metres_of_the_stage(self):
        move = Move(right_m=-2.4, away_m=1.2, up_m=0.6, pan_deg=-5.0, tilt_deg=2.0)
        lines = told(case_of(one(MILL, move=move)), "Camera stands")
        # A twelfth each; the way is sqrt(0.2² + 0.1² + 0.05²) = 0.2291 m.
        assert lines["Camera move"][0] == "229 mm"
        assert lines["Camera move"][1] == (
            "200 mm left, 100 mm ahead, 50.0 mm up, pan -5.0°, tilt +2.0° in 6 s"
        )

    def test_a_level_camera_is_called_level_and_one_that_looks_down_down(self):
        level = told(case_of(one(MILL, tilt_deg=0.0)), "Camera stands")
        down = told(case_of(one(MILL, tilt_deg=-4.0)), "Camera stands")
        assert level["Tilt"] == ("0.0°", "level")
        assert down["Tilt"] == ("-4.0°", "down")


class TestLight:
    def test_every_lamp_says_where_it_stands_and_what_is_before_it(self):
        lamps = (
            PlacedLamp("panel", -0.5, -0.4, 0.6, level=0.5, gel="blue-4"),
            PlacedLamp(
                "fresnel", 0.5, 1.0, 0.6, size_m=0.05, aim_x_m=-0.1, aim_y_m=2.0, aim_z_m=0.2
            ),
            PlacedLamp("panel", 0.5, 1.0, 0.6, size_m=1.2),
        )
        lines = told(case_of(one(MILL, plate_lamps=lamps)), "Light")
        assert lines["Panel 1"] == (
            "400 mm behind",
            "500 mm left of the line, 600 mm up, at 50 %, quarter blue",
        )
        assert lines["Fresnel"] == (
            "1.000 m ahead",
            "500 mm right of the line, 600 mm up, 50.0 mm opening in black card, aimed at "
            "2.000 m ahead, 100 mm left, 200 mm up",
        )
        assert lines["Panel 2"][1].endswith("1.200 m frame of diffusion")

    def test_a_lamp_that_left_the_kit_is_left_out(self):
        lamps = (PlacedLamp("sold", 0.0, 1.0, 1.0), PlacedLamp("panel", 0.0, 1.0, 1.0))
        assert "Panel" in told(case_of(one(MILL, plate_lamps=lamps)), "Light")
        assert len(told(case_of(one(MILL, plate_lamps=lamps)), "Light")) == len(
            told(case_of(one(MILL, plate_lamps=lamps[1:])), "Light")
        )

    def test_an_interactive_light_names_its_lamp_and_its_flashes(self):
        lamps = (PlacedLamp("panel", 0.0, 1.0, 1.0),)
        storm = Cue("lightning", low=0.1, high=0.9, per_s=1.0)
        case = case_of(one(ANSA, plate_lamps=lamps, plate_cue=storm))
        words = told(case, "Light")["Interactive light"][1]
        assert words.startswith("on Panel, 10 % to 90 %, at most ")
        nobody = case_of(one(ANSA, plate_lamps=lamps, plate_cue=replace(storm, lamp=7)))
        assert told(nobody, "Light")["Interactive light"][1].startswith("on a lamp")

    def test_light_needed_is_the_meter_equation(self):
        # ISO 2720: E = 250 N² / (t ISO); two stops of ND take four times as much.
        bare = told(case_of(one(ANSA)), "Light")["Light at the action"][0]
        dark = told(case_of(one(ANSA, plate_nd_stops=2.0)), "Light")["Light at the action"][0]
        lux = [float(text.removesuffix(" lx").replace(",", "")) for text in (bare, dark)]
        assert lux[0] == pytest.approx(250 * 5.6**2 * 48 / 800, rel=0.03)
        assert lux[1] / lux[0] == pytest.approx(4.0, rel=0.02)

    def test_a_screen_says_its_size_gap_and_floor(self):
        lines = told(
            case_of(one(ANSA, plate_screen_sweep_m=2.5, plate_screen_gap_m=2.0)), "Backing"
        )
        assert lines["Screen"] == ("3.000 m × 3.000 m", "2.000 m behind the action")
        assert lines["Sweep on the floor"] == ("2.500 m", "no crease")


class TestTricks:
    def test_a_throw_and_its_beats_are_timed_from_the_release(self):
        thrown = Throw(-0.75, 2.4, 1.2, 0.75, 2.4, 1.2, frame=30, frames=18)
        beats = (
            Beat("slam", "Door slams", 49, "left", cue=True),
            Beat("turn", "He turns", 61, "right", "slam", 12),
        )
        found = twins(splits=(replace(UPRIGHT, throw=thrown),), beats=beats)
        (air,) = told(twin(found, "left"), "Throw").values()
        # 18 frames at 24 fps are 0.75 s; h + g t² / 8 = 1.2 + 0.6895 m, g = 9.80665 m/s².
        assert air == ("frame 30 to 48", "1.890 m high in the middle, 0.75 s")
        # Frame 49 comes two seconds after frame 1, where the clap is.
        assert told(twin(found, "left"), "Timing") == {
            "Door slams": ("2 s after the clap", "frame 49, cued by sound")
        }
        assert told(twin(found, "right"), "Timing") == {
            "He turns": ("2.5 s after the clap", "frame 61")
        }
        # The clean plate is no side of the line: nothing flies past it.
        assert told(twin(found, "clean"), "Throw") == {}

    def test_the_clean_plate_averages_twenty_seconds(self):
        # Common practice: 20 to 30 s. 480 frames make noise sqrt(480) = 21.9 times less.
        roll = told(twin(twins(), "clean"), "Clean plate")["Roll"]
        assert roll == ("20 s", "nobody in frame; 480 frames, 22 times quieter")

    def test_strips_have_marks_on_both_halves_and_the_clean_plate(self):
        for plate in ("left", "right", "clean"):
            marks = trick_marks(twin(twins(), plate))
            assert marks
            assert all(m.from_sensor_m > 0 for m in marks)
        assert trick_marks(twin(twins(splits=()), "left")) == []

    def test_a_mirrored_half_says_what_gives_it_away(self):
        clock = StandIn("clock", "Clock", "box", -0.6, 3.0, 1.5, 0.3, 0.3, 0.1, plate_id="clean")
        found = changed(twins(*twins().stand_ins, clock, key_from_deg=60.0), "right", flop=True)
        labels = {line.label: line.detail for line in trick_lines(twin(found, "right"))}
        # A key from the right of the story comes from the left of a mirrored stage.
        assert "comes from the left" in labels["The side of the key light"]
        assert "600 mm to the right" in labels["Clock is off the middle"]
        assert "Which hand writes, pours, holds" in labels
        assert not any(x.group == "Mirrored half" for x in trick_lines(twin(found, "left")))

    def test_a_line_carries_a_fifth_of_what_it_breaks_at_and_never_people(self):
        # 5 : 1 (OSHA 1910.184, ASME B30.9; from memory).
        lamp = StandIn("lamp", "Lantern", "box", 0, 3, 1, 0.2, 0.3, 0.2, plate_id="left")
        found = twins(lamp, splits=())
        hung = changed(found, "left", rig=Rig("lamp", "line", 2.0, 0.3, 25.0))
        rig = told(twin(hung, "left"), "Rig")
        assert rig["Working load"][0] == "5 kg"
        assert "rated 25 kg, factor 5; it weighs 2 kg" in rig["Working load"][1]
        assert "never people" in rig["Working load"][1]
        unknown = changed(found, "left", rig=Rig("lamp", "line", 2.0, 0.3))
        assert "Working load" not in told(twin(unknown, "left"), "Rig")
        # A person on a rig is no rig.
        person = changed(twins(splits=()), "left", rig=Rig("anna", "line", 60.0, 3.0, 2000.0))
        assert told(twin(person, "left"), "Rig") == {}

    def test_markers_say_how_many_how_large_and_how_far_apart(self):
        wall = StandIn("wall", "Wall", "card", 0, 4.0, 0, 3.0, 2.4, 0, plate_id="left")
        tracked = changed(
            twins(wall, splits=()), "left", markers=Markers("wall", size_mm=30, spacing_m=0.5)
        )
        ((label, (value, apart)),) = told(twin(tracked, "left"), "Markers").items()
        assert label == "On Wall"
        assert value.endswith(" of 30 mm")
        assert apart == "500 mm apart"
        insert = changed(tracked, "left", markers=Markers("wall", insert=True))
        ((_, (_, where)),) = told(twin(insert, "left"), "Markers").items()
        assert where == "corners and edges"


class TestChecklist:
    @pytest.mark.parametrize(
        ("kind", "words"),
        [
            ("miniature", "Lights-off plate before anything moves"),
            ("puppet", "Set photographed from above with a tape, for the rebuild"),
            ("element", "Lens at the height and angle of the plate it goes into"),
            ("still", "Bracketed exposures, raw if the body can"),
        ],
    )
    def test_each_kind_has_what_only_it_needs(self, kind, words):
        lists = {
            k: checklist(case_of(one(replace(MILL, kind=k))))
            for k in ("miniature", "puppet", "element", "still", "live")
        }
        assert [k for k, items in lists.items() if words in items] == [kind]

    def test_passes_are_as_many_as_are_filmed(self):
        near = StandIn("near", "Near", "box", 0, 4, 0, 1, 1, 1, 0, "mill")
        far = StandIn("far", "Far", "box", 0, 60, 0, 10, 20, 1, 0, "mill")
        deep = one(MILL, stand_ins=(near, far), plate_focus_passes=3, plate_f_number=5.6)
        assert any("3 focus passes" in item for item in checklist(case_of(deep)))
        # One is enough for one thin thing, whatever was planned.
        thin = one(MILL, stand_ins=(replace(near, depth_m=0.01),), plate_focus_passes=3)
        assert not any("focus passes" in item for item in checklist(case_of(thin)))

    def test_a_body_without_remote_runs_through(self):
        bare = replace(STILLS, remote=False, stabiliser=False)
        kit = replace(KIT, bodies=(bare,))
        found = replace(one(MILL, plate_body_id="stills", plate_mode_id="uhd"), kit=kit)
        items = checklist(case_of(found))
        assert any("has no remote" in item for item in items)
        assert not any("Stabiliser" in item for item in items)

    def test_a_zoom_is_taped_and_nd_stays_on(self):
        zoom = replace(KIT.lenses[1], focal_min_mm=24.0, focal_max_mm=70.0)
        found = replace(one(MILL, plate_nd_stops=2.0), kit=replace(KIT, lenses=(zoom,)))
        items = checklist(case_of(found))
        assert any(item.startswith("Zoom ring taped: ") for item in items)
        assert "ND stays on: 2 stops" in items

    def test_a_lock_off_under_the_sun_says_within_how_many_minutes(self):
        day = datetime.date(2026, 6, 21)
        found = twins()
        for plate in ("left", "right", "clean"):
            found = changed(found, plate, room_id="yard", film_on=day)
        (within,) = [x for x in checklist(twin(found, "left")) if x.startswith("All passes")]
        minutes = float(within.split(": ")[1].split(" min")[0])
        # The sun turns 15 degrees an hour: a lock-off outdoors is a matter of minutes.
        assert 2 < minutes < 60
        # Under lamps it is not the sun that drifts.
        lit = found
        for plate in ("left", "right", "clean"):
            lit = changed(lit, plate, lamps=(PlacedLamp("panel", 0, 1, 1),))
        assert not any(x.startswith("All passes") for x in checklist(twin(lit, "left")))
        assert any("dimmers read" in x for x in checklist(twin(lit, "left")))
