"""Exposure sheets through the API: kept, refused, computed, and as files."""

from __future__ import annotations

import csv
import datetime
import io

import pytest

from jungoptic.web.frames.models import Sheet
from jungoptic.web.kit.models import MoveRig
from jungoptic.web.plans.models import Plate
from tests.conftest import new_id

HERON = {"key": "part-1", "name": "Heron", "kind": "part", "marks": [{"frame": 1, "every": 2}]}
SLIDE = {
    "key": "axis-1",
    "name": "Slider",
    "kind": "axis",
    "axis": "track",
    "legs": [{"first": 2, "frames": 24, "way": 96.0, "ease": "both"}],
}
DAY = {"day": "2026-10-17", "first": 1, "last": 24, "hours": 4}


def sheet_of(stage) -> str:
    return f"{stage.path}/plates/{stage.plate.pk}/sheet"


def keep(stage, revision=0, **changes):
    return stage.api.patch(sheet_of(stage), {"revision": revision, **changes})


def files_of(stage) -> str:
    return f"{stage.path}/shots/{stage.shot.pk}/plates/{stage.plate.pk}"


def question(stage, **sheet):
    from jungoptic.web.plans.stored import plan_json

    return {**plan_json(stage.shot), "plate_id": str(stage.plate.pk), "sheet": sheet}


def test_a_sheet_is_made_with_its_first_change(stage):
    empty = stage.api.get(sheet_of(stage)).json()
    assert (empty["id"], empty["revision"], empty["columns"]) == (str(stage.plate.pk), 0, [])
    made = keep(stage, columns=[HERON]).json()
    assert made["revision"] == 1
    assert made["columns"][0]["marks"] == [{"frame": 1, "name": "", "every": 2}]
    changed = keep(stage, 1, worked=[DAY]).json()
    assert (changed["revision"], len(changed["columns"])) == (2, 1)
    assert stage.api.get(sheet_of(stage)).json() == changed


def test_two_windows_never_overwrite_each_other(stage):
    keep(stage, columns=[HERON])
    for stale in (0, 7):
        answer = keep(stage, stale, columns=[])
        assert answer.status_code == 409
        assert answer.json()["current"]["columns"][0]["name"] == "Heron"
    assert Sheet.objects.get().revision == 1


@pytest.mark.parametrize(
    ("columns", "told"),
    [
        ([{**HERON, "marks": [{"frame": 0}]}], "frame"),
        ([{**HERON, "marks": [{"frame": 3}, {"frame": 3}]}], "two marks at one frame"),
        ([HERON, HERON], "one and the same"),
        ([{**SLIDE, "legs": [{"frames": 0}]}], "frames"),
        ([{**SLIDE, "legs": [{"curve": [{"at": 0.5, "gone": 0}] * 2}]}], "one moment"),
        ([{**HERON, "kind": "lamp"}], "kind"),
        ([{**SLIDE, "legs": [{"frames": 60_000}] * 2}], "more than 100000 frames"),
        ([{**HERON, "key": "A b"}], "key"),
    ],
)
def test_what_makes_no_sense_is_refused_in_words(stage, columns, told):
    answer = keep(stage, columns=columns)
    assert answer.status_code == 422
    assert told in answer.content.decode()
    assert not Sheet.objects.exists()
    assert stage.api.post("/calc/sheet", question(stage, columns=columns)).status_code == 422


def test_days_that_make_no_sense_are_refused(stage):
    for wrong in ({"last": 0}, {"first": 9, "last": 3}, {"hours": 0}, {"hours": 25}, {"day": "x"}):
        assert keep(stage, worked=[{**DAY, **wrong}]).status_code == 422


def test_a_sheet_is_computed_without_being_stored(stage):
    answer = stage.api.post(
        "/calc/sheet", question(stage, columns=[HERON, SLIDE], worked=[DAY])
    ).json()
    frames = answer["frames"]
    own, slider = answer["columns"][:2]
    assert own["changed"] == list(range(1, frames + 1, 2))
    assert slider["chart"]["wanted"][-1] == pytest.approx(96.0)
    assert slider["chart"]["steps"] == []
    assert sum(n * count for n, count in answer["held"]) == frames
    assert answer["progress"]["made"] == 24
    assert answer["progress"]["measured"]
    assert {f["key"] for f in answer["findings"]} >= {"sheet-off", "sheet-jolt", "sheet-twos"}
    assert answer["begin_with"]
    assert not Sheet.objects.exists()
    # What the core proposes can be stored as it is.
    assert keep(stage, columns=answer["begin_with"]).status_code == 200


def test_a_sheet_with_nothing_on_it_is_told_by_how_long_poses_are_held(stage):
    asked = question(stage)
    for plate in asked["plates"]:
        plate["hold"] = 2
    answer = stage.api.post("/calc/sheet", asked).json()
    pictures = -(-answer["frames"] // 2)
    assert answer["usual"] == {"hold": 2, "pictures": pictures}
    assert answer["progress"]["pictures_left"] == pictures
    begun = stage.api.post("/calc/sheet", question(stage, columns=[HERON])).json()
    assert begun["usual"] is None


@pytest.mark.parametrize(("zone", "days"), [("Pacific/Kiritimati", 1), ("Pacific/Pago_Pago", 0)])
def test_a_sheet_that_is_not_stored_has_the_day_of_its_production(stage, monkeypatch, zone, days):
    """14 hours before UTC and 11 behind it: never the same day (the IANA time zones)."""
    now = datetime.datetime(2026, 10, 20, 10, 30, tzinfo=datetime.UTC)
    monkeypatch.setattr("django.utils.timezone.now", lambda: now)
    body = {**question(stage, columns=[HERON], worked=[DAY]), "time_zone": zone}
    done = stage.api.post("/calc/sheet", body).json()["progress"]
    today = datetime.date(2026, 10, 19) + datetime.timedelta(days=2 * days)
    assert done["done_on"] == str(today + datetime.timedelta(days=done["days_left"]))


def test_a_rig_of_the_kit_counts_the_steps(stage):
    rig = {"name": "Crank", "axis": "track", "per_turn": 1.0, "steps_per_turn": 4, "backlash": 0.5}
    made = stage.api.post(f"{stage.path}/rigs", {**rig, "id": new_id()}).json()
    assert stage.api.get(f"{stage.path}/kit").json()["rigs"] == [made]
    column = {**SLIDE, "rig_id": made["id"]}
    chart = stage.api.post("/calc/sheet", question(stage, columns=[column])).json()["columns"][0]
    assert sum(chart["chart"]["steps"]) == 96 * 4
    assert chart["chart"]["play_steps"] == 2
    # Without the rig the chart goes on without steps.
    assert stage.api.delete(f"{stage.path}/rigs/{made['id']}").status_code == 204
    gone = stage.api.post("/calc/sheet", question(stage, columns=[column])).json()
    assert gone["columns"][0]["chart"]["rig"] == ""
    for wrong in ({"per_turn": 0}, {"steps_per_turn": 0}, {"backlash": -1}, {"axis": "sideways"}):
        assert stage.api.post(f"{stage.path}/rigs", {**rig, **wrong}).status_code == 422


def test_files_to_take_to_the_table(stage):
    rig = MoveRig.objects.create(
        production=stage.production, name="Crank", axis="track", steps_per_turn=4, backlash=0.5
    )
    note = {
        "key": "note-1",
        "name": "=Notes",
        "kind": "note",
        "marks": [{"frame": 2, "name": "=1+1"}],
    }
    keep(stage, columns=[HERON, {**SLIDE, "rig_id": str(rig.pk)}, note])
    base = files_of(stage)
    table = stage.api.get(f"{base}/sheet.csv")
    rows = list(csv.reader(io.StringIO(table.content.decode())))
    assert rows[0][:5] == ["frame", "seconds", "picture", "Heron", "Slider (mm)"]
    # What a spreadsheet would run is disarmed.
    assert rows[2][5] == "'=1+1"
    assert float(rows[25][4]) == pytest.approx(96.0)
    chart = stage.api.get(f"{base}/chart.csv?column=axis-1").content.decode().splitlines()
    assert chart[0].startswith("frame,before_it_mm,total_mm,steps,total_steps")
    assert int(chart[-1].split(",")[4]) == 96 * 4
    code = stage.api.get(f"{base}/chart.gcode?column=axis-1")
    assert code["Content-Type"].startswith("text/plain")
    assert "G21" in code.content.decode()
    for name in ("sheet.pdf", "chart.pdf?column=axis-1", "strip.pdf?column=axis-1"):
        page = stage.api.get(f"{base}/{name}")
        assert page.content.startswith(b"%PDF"), page.content[:200]


def test_files_of_what_is_not_there_say_so(stage):
    keep(stage, columns=[{**SLIDE, "axis": "pan"}])
    base = files_of(stage)
    for name in ("chart.csv", "chart.gcode", "chart.pdf", "strip.pdf"):
        answer = stage.api.get(f"{base}/{name}?column=axis-9")
        assert answer.status_code == 422
        assert "no such move" in answer.json()["message"]
    # Round what radius, nobody has said.
    assert stage.api.get(f"{base}/strip.pdf?column=axis-1").status_code == 422
    assert stage.api.get(f"{base}/strip.pdf?column=axis-1&radius_mm=40").status_code == 200
    keep(stage, 1, columns=[{**SLIDE, "legs": [{"frames": 9, "way": 900_000}]}])
    answer = stage.api.get(f"{base}/strip.pdf?column=axis-1")
    assert answer.status_code == 422
    assert "too long for a strip" in answer.json()["message"]


def test_a_variant_and_both_halves_of_a_cut_keep_the_sheet(stage):
    keep(stage, columns=[HERON, SLIDE], worked=[DAY])
    done = stage.api.work(stage.path, "duplicate", ids=[str(stage.shot.pk)])
    assert done["state"] == "done", done
    twin = Sheet.objects.exclude(plate_id=stage.plate.pk).get()
    assert (len(twin.columns), twin.worked) == (2, [])
    assert Plate.objects.get(pk=twin.plate_id).shot_id == twin.shot_id != stage.shot.pk
    cut = stage.api.post(f"{stage.path}/board/split", {"id": str(stage.shot.pk), "at_s": 0.5})
    assert cut.status_code == 200, cut.content
    first = Sheet.objects.get(plate_id=stage.plate.pk)
    assert first.columns[1]["legs"][0]["frames"] == 11
    second = Sheet.objects.exclude(pk__in=[twin.pk, first.pk]).get()
    assert second.columns[1]["legs"][0]["first"] == 1
    step = stage.api.get(f"{stage.path}/steps").json()["undo"]
    assert stage.api.post(f"{stage.path}/steps/{step['id']}/undo").status_code == 200
    whole = Sheet.objects.get(plate_id=stage.plate.pk)
    assert whole.columns[1]["legs"][0]["frames"] == 24
    assert not Sheet.objects.filter(pk=second.pk).exists()


def test_a_plate_whose_removal_is_undone_has_its_sheet_again(stage):
    bare = Plate.objects.create(shot=stage.shot, name="Bare", kind="puppet")
    path = f"{stage.path}/plates/{bare.pk}"
    assert stage.api.patch(f"{path}/sheet", {"revision": 0, "columns": [HERON]}).status_code == 200
    assert stage.api.delete(path).status_code == 204
    assert stage.api.get(f"{path}/sheet").status_code == 404
    again = {"id": str(bare.pk), "name": "Bare", "kind": "puppet"}
    assert stage.api.post(f"{stage.path}/shots/{stage.shot.pk}/plates", again).status_code == 200
    assert stage.api.get(f"{path}/sheet").json()["columns"][0]["name"] == "Heron"


def test_a_very_long_sheet_is_answered(stage):
    stage.shot.screen_time_s = 420.0
    stage.shot.save()
    answer = stage.api.post("/calc/sheet", question(stage, columns=[HERON, SLIDE])).json()
    assert answer["frames"] > 10_000
    stage.shot.screen_time_s = 3600.0
    longer = stage.api.post("/calc/sheet", question(stage, columns=[HERON], lapse={}))
    assert longer.status_code == 422
    assert "split it" in longer.json()["message"]
    keep(stage, columns=[HERON])
    refused = stage.api.get(f"{files_of(stage)}/sheet.pdf")
    assert refused.status_code == 422
    assert "CSV" in refused.json()["message"]


def test_a_time_lapse_is_planned_answered_marked_and_taken_back(stage):
    lapse = {"interval_s": 10, "exposure_s": 0.5, "path_right_m": 12}
    answer = stage.api.post("/calc/sheet", question(stage, lapse=lapse)).json()["lapse"]
    assert answer["photos"] == round(stage.shot.screen_time_s * stage.shot.playback_fps)
    assert answer["step_m"] == pytest.approx(12 / (answer["photos"] - 1))
    base = files_of(stage)
    assert stage.api.get(f"{base}/lapse.csv").status_code == 422
    assert keep(stage, lapse=lapse).json()["lapse"]["held"] == "tripod"
    rows = stage.api.get(f"{base}/lapse.csv").content.decode().splitlines()
    assert len(rows) == answer["photos"] + 1
    assert rows[-1].endswith(",12.000")
    # Without naming it, it stays; named as nothing, it goes.
    assert keep(stage, 1, columns=[HERON]).json()["lapse"] is not None
    assert keep(stage, 2, lapse=None).json()["lapse"] is None
    for wrong in ({"interval_s": 0}, {"exposure_s": -1}, {"held": "tied"}, {"card_gb": 0}):
        assert keep(stage, 3, lapse={**lapse, **wrong}).status_code == 422


def test_hours_follow_the_sheet(stage):
    Plate.objects.filter(pk=stage.plate.pk).update(kind="puppet", hold=1)

    def line(rate):
        parts = stage.api.get(f"{stage.path}/shots/{stage.shot.pk}/effort").json()["parts"]
        own = next(p for p in parts if p["plate_id"] == str(stage.plate.pk))
        return next((one["amount"] for one in own["lines"] if one["rate"] == rate), None)

    seconds = stage.shot.screen_time_s
    assert line("frames") == pytest.approx(seconds)
    # On twos half as many pictures are taken, whatever is usual.
    keep(stage, columns=[HERON])
    assert line("frames") == pytest.approx(seconds / 2, abs=0.05)
    # A camera that moves is photographed at every frame.
    type(stage.shot).objects.filter(pk=stage.shot.pk).update(move_right_m=1.0)
    assert line("frames") == pytest.approx(seconds)
    keep(stage, 1, lapse={"interval_s": 60})
    frames = round(seconds * stage.shot.playback_fps)
    assert line("frames") is None
    assert line("lapse") == pytest.approx((frames - 1) / 60, rel=0.01)
