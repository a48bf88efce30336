"""The demo opens half-way through a job and tells the truth about it."""

from __future__ import annotations

import pytest

from jungoptic.core.breakdown.recipes import BY_KEY
from jungoptic.core.judging import judge_plate
from jungoptic.core.lockoff.joins import judge_joins
from jungoptic.core.plan.findings import Verdict
from jungoptic.core.stage.case import Case
from jungoptic.web.board import board
from jungoptic.web.breakdown.loading import load_breakdown
from jungoptic.web.breakdown.models import BoardStep, ReadCaution
from jungoptic.web.demo import load
from jungoptic.web.demo.shots import SHOTS, edit_list
from jungoptic.web.exchange.edits import rows_of
from jungoptic.web.plans.bridge import load as load_plan
from jungoptic.web.plans.models import Plate, RecipeUse, Shot
from jungoptic.web.plans.stored import plan_json
from jungoptic.web.productions.models import Production
from jungoptic.web.recipes import book
from jungoptic.web.sketches.models import Sketch
from jungoptic.web.sketches.reports import report_of
from jungoptic.web.takes.models import SetCard, Take
from tests.kept_demo import lay_demo


@pytest.fixture
def demo(db) -> Production:
    lay_demo()
    return Production.objects.get()


def test_it_is_made_once(demo):
    assert not load()
    assert Production.objects.count() == 1


def test_fourteen_shots_are_broken_down(demo):
    # Three more were written in between, and carry letters.
    shots = [s for s in Shot.objects.all() if s.number.isdigit()]
    assert [s.number for s in shots] == [str(n) for n in range(1, 15)]
    for shot in shots:
        uses = list(shot.recipe_uses.all())
        assert uses, shot
        assert shot.facts["shows"]
        assert shot.place
        assert shot.key_from_deg is not None
        plates = list(shot.plates.all())
        assert plates
        for plate in plates:
            assert plate.lens_id, f"{shot}: {plate} has its camera"
            assert plate.why
        for use in uses:
            assert book.forgotten(use, plates) == [], shot
            # What the shot was told it must show is what its recipes can show.
        shown = {s for u in uses for s in book.thawed(u.content).shows}
        assert set(shot.facts["shows"]) & shown


def test_most_kinds_of_recipe_and_plate_are_in_it(demo):
    used = set(RecipeUse.objects.values_list("recipe", flat=True))
    assert len(used) >= 14
    assert used <= set(BY_KEY)
    assert {BY_KEY[key].family for key in used} >= {
        "sets",
        "performers",
        "objects",
        "elements",
        "frames",
    }
    kinds = set(Plate.objects.values_list("kind", flat=True))
    assert kinds == {"miniature", "screen", "live", "puppet", "element", "still"}


def test_lock_offs_share_one_camera(demo):
    for shot in Shot.objects.all():
        groups: dict[str, set] = {}
        for plate in shot.plates.exclude(lock_group=""):
            groups.setdefault(plate.lock_group, set()).add(
                (plate.body_id, plate.mode_id, plate.lens_id)
            )
        for cameras in groups.values():
            assert len(cameras) == 1 or shot.number == "2"


def test_seven_plates_break_each_in_its_own_way(demo):
    ids = list(Shot.objects.values_list("pk", flat=True))
    found = {v["id"]: v for v in board.verdicts(demo, ids)}
    broken = [s.number for s in Shot.objects.all() if found[s.pk]["verdict"] == "breaks"]
    assert broken == ["2", "3", "7A", "8", "9", "9A", "12"]
    titles = {n: found[Shot.objects.get(number=n).pk]["title"] for n in ("3", "7A", "9A", "12")}
    assert titles == {
        "3": "Half B: Ilse: Divider",
        "7A": "Ilse, towards us: Depth of field",
        "9A": "Street miniature: Turning point",
        "12": "Rig take: Rig",
    }
    wheel = found[Shot.objects.get(number="9").pk]
    assert wheel["title"] == "Wheel, breaking: Capture rate"
    mill = found[Shot.objects.get(number="2").pk]
    assert mill["title"] == "Mill miniature: Lens floor"
    assert mill["next"] == "Mend what breaks"


def test_five_shots_are_lit_one_from_the_wrong_side_one_screen_uneven(demo):
    lit = {
        s.number: [p for p in s.plates.all() if p.lamps]
        for s in Shot.objects.filter(number__in=["2", "8", "10", "11", "13"])
    }
    assert all(lit.values())
    found = {}
    for number in lit:
        plan = load_plan(plan_json(Shot.objects.get(number=number)))
        for plate in plan.plates:
            case = Case.of(plan, plate)
            if case is not None and plate.lamps:
                found |= {(number, plate.name, f.key): f for f in judge_plate(case)}
    wrong = [k for k, f in found.items() if k[2] == "key-side" and f.verdict is Verdict.BREAKS]
    assert wrong == [("8", "Backing plate", "key-side")]
    uneven = [k for k, f in found.items() if k[2] == "evenness" and f.verdict is not Verdict.HOLDS]
    assert [k[0] for k in uneven] == ["8"]
    for key in (*wrong, *uneven):
        assert any(r.verdict is not Verdict.BREAKS for r in found[key].remedies)
    shawl = next(f for k, f in found.items() if k[2] == "screen-colour")
    assert "Moss shawl" in shawl.sentence


def test_five_shots_are_planned_on_the_bench(demo):
    rooms = {
        s.number: {p.room.name for p in s.plates.select_related("room") if p.room}
        for s in Shot.objects.filter(number__in=["2", "3", "8", "9", "13"])
    }
    assert rooms["2"] == {"Garage", "Yard"}
    assert rooms["3"] == {"Kitchen"}
    assert all(rooms.values())
    assert Shot.objects.get(number="13").move_right_m == 3.0
    assert Shot.objects.get(number="2").visibility_m
    assert demo.lamps.count() == demo.rooms.count() == 4


def test_a_card_is_issued_and_a_take_logged(demo):
    card = SetCard.objects.get(slate="3A-1")
    names = [m["name"] for m in card.content["marks"]]
    assert names[0] == "Ansa"
    assert {"Strip, left edge, near", "Ansa: feet no nearer"} <= set(names)
    assert card.content["marks"][0]["from_left_m"] > 1
    assert card.content["eyelines"][0]["target"] == "Ilse"
    assert Take.objects.get(card=card).circled


def test_a_clip_has_filed_itself_by_its_board(demo):
    """And says how far its camera really stood, as a tape would have. Seen so squarely, a board
    says little of height and tilt: those are left to the tape."""
    take = Take.objects.get(by_board=True)
    planned = take.card.shown["planned"]
    assert take.distance_m == pytest.approx(planned["distance_m"] + 0.03, abs=0.006)
    assert (take.axis_height_m, take.tilt_deg) == (None, None)


def test_every_shot_has_a_sketch_from_its_frame(demo):
    for shot in Shot.objects.all():
        (sketch,) = shot.sketches.all()
        assert sketch.planned
        assert sketch.width_px / sketch.height_px == pytest.approx(1920 / 804, rel=0.01)
        with sketch.picture.open() as file:
            assert file.read(8) == b"\x89PNG\r\n\x1a\n"


def test_the_poplar_rises_over_the_sky_line(demo):
    report = report_of(Sketch.objects.get(shot__number="13"))
    (tree,) = [f for f in report.findings if f.key.startswith("matte:") and f.remedies]
    assert tree.verdict == Verdict.BREAKS
    assert tree.sentence.startswith("Poplar is 7.400 m tall at 31.00 m")
    assert len(report.crossings) == 2


def test_threads_are_kept_lacking_and_excused(demo):
    loaded = load_breakdown(demo)
    told = {
        (shot.number, f.title): f
        for shot in loaded.shots
        for f in loaded.continuity_of(shot)
        if f.key.startswith("thread:")
    }
    assert told["2", "Flag on the mill roof"].verdict == Verdict.HOLDS
    assert told["9", "Flag on the mill roof"].verdict == Verdict.STRAINS
    assert "older than the flag" in told["14", "Flag on the mill roof"].sentence
    assert told["12", "Ansa's wet oilskin"].verdict == Verdict.STRAINS


def test_one_light_is_on_the_wrong_side(demo):
    loaded = load_breakdown(demo)
    sides = {s.number: loaded.light_of(s) for s in loaded.shots}
    wrong = [n for n, f in sides.items() if f is not None and f.verdict != Verdict.HOLDS]
    # Shot 4 disagrees with both others of the evening kitchen.
    assert wrong == ["3", "4", "7"]
    assert sides["11"] is not None
    assert sides["11"].verdict == Verdict.HOLDS


def test_hours_are_those_of_a_small_crew(demo):
    loaded = load_breakdown(demo)
    assert loaded.set_pace.n == 2
    assert loaded.post_pace.n == 1
    whole = [loaded.effort_of(s) for s in loaded.shots]
    assert 30 < sum(e.set.likely for e in whole) < 120
    assert 40 < sum(e.post.likely for e in whole) < 160


def test_it_begins_with_nothing_to_undo_and_some_cautions_read(demo):
    assert not BoardStep.objects.exists()
    assert ReadCaution.objects.count() == 2


def test_its_edit_list_is_a_real_one(demo):
    rows, notes = rows_of("heron.edl", edit_list().encode(), demo)
    assert notes == []
    assert [(r.values["edit_name"], r.values["screen_time_s"]) for r in rows] == [
        (told.edit_name, told.seconds) for told in SHOTS
    ]


def test_tricks_are_planned_and_every_lock_off_agrees(demo):
    found = {}
    for shot in Shot.objects.all():
        plan = load_plan(plan_json(shot))
        for plate in plan.plates:
            case = Case.of(plan, plate)
            assert case is not None
            found |= {(shot.number, plate.name, f.key): f for f in judge_joins(case)}
    broken = {k: f for k, f in found.items() if f.verdict is Verdict.BREAKS}
    assert set(broken) == {("3", "Half B: Ilse", "split"), ("12", "Rig take", "rig")}
    for finding in broken.values():
        assert any(r.verdict is Verdict.HOLDS for r in finding.remedies)
    assert "An arm of Ilse" in broken[("3", "Half B: Ilse", "split")].sentence
    tricks = {(number, key) for number, _, key in found}
    assert tricks >= {
        *(("3", k) for k in ("lock", "split", "beats")),
        *(("4", k) for k in ("lock", "rig", "reframe", "roto")),
        *(("7", k) for k in ("lock", "split", "throw", "beats")),
        *(("10", k) for k in ("lock", "crowd")),
        *(("12", k) for k in ("lock", "rig", "load")),
        *(("14", k) for k in ("lock", "split", "markers")),
    }
    assert "come to 40" in found[("10", "Tiles of the crowd", "crowd")].sentence
