"""Tables and edit lists, in and out: mapping, preview, errors per line, nothing half-done."""

from __future__ import annotations

import csv
import io
import json

import opentimelineio as otio
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from jungoptic.web.exchange.tables import guess, plain_number, read, seconds
from jungoptic.web.plans.models import Shot
from jungoptic.web.productions.models import Production
from jungoptic.web.records import Refused
from tests.conftest import Stage

TABLE = 'Shot;What happens;Location;Secs\n10;The mill;Quay;4,5\n20;The "wheel";;0:06\n'
MAPPING = {"number": "Shot", "title": "What happens", "place": "Location", "screen_time_s": "Secs"}


def post(stage: Stage, path: str, data: bytes | str, name="list.csv", **form):
    raw = data.encode() if isinstance(data, str) else data
    return stage.api.client.post(
        f"/api{stage.path}/import/{path}", {"file": SimpleUploadedFile(name, raw), **form}
    )


def table(stage: Stage, what: str, data: bytes | str, mapping=MAPPING, **form):
    return post(stage, f"table/{what}", data, mapping=json.dumps(mapping), **form)


def numbers() -> list[str]:
    return list(Shot.objects.values_list("number", flat=True))


# --- tables


@pytest.mark.parametrize("mark", [",", ";", "\t", "|"])
@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_any_usual_table_is_read(mark, encoding):
    text = f"number{mark}title\n1{mark}Dämmerung\n2{mark}Möwe\n"
    sheet = read(text.encode(encoding))
    assert sheet.columns == ("number", "title")
    assert [cells for _, cells in sheet.rows] == [("1", "Dämmerung"), ("2", "Möwe")]
    assert sheet.delimiter == mark


def test_quotes_blank_lines_and_odd_headers_survive():
    text = 'number,title,title,\n\n1,"Ansa, late\nat night",x,y\n'
    sheet = read(text.encode())
    assert sheet.columns == ("number", "title", "title (2)", "column 4")
    assert sheet.rows == ((4, ("1", "Ansa, late\nat night", "x", "y")),)


def test_columns_are_guessed_by_the_words_people_use():
    found = guess(("Shot", "Description", "Location", "Duration", "Colour"))
    assert found == {
        "number": "Shot",
        "title": "Description",
        "place": "Location",
        "screen_time_s": "Duration",
    }


@pytest.mark.parametrize(
    ("cell", "value"),
    [
        ("4", 4),
        ("4,5", 4.5),
        ("0:06", 6),
        ("1:02:03", 3723),
        ("4 s", 4),
        ("x", None),
        ("1:x", None),
        ("", None),
        ("1:2:3:4", None),
        ("nan", None),
        ("1e99", None),
    ],
)
def test_screen_times_as_people_write_them(cell, value):
    assert seconds(cell) == value


def test_plain_numbers_take_a_unit():
    assert plain_number("35 mm") == 35
    assert plain_number("35 mm prime lens") is None


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "empty"),
        (b"\n\n \n", "empty"),
        (b"number,title\n", "no shots under it"),
        (b"one column only\nand more\n", "Only one column"),
        (b"\x00\x01\x02binary" * 50, "no text file"),
        (("number,title\n" + "1,a\n" * 100_000).encode(), "more than 2,000 shots"),
        ((",".join(f"c{i}" for i in range(300)) + "\n1,2\n").encode(), "300 columns"),
        (b'number,title\n1,"' + b"x" * 200_000 + b'"\n', "cannot be read as a table"),
    ],
    ids=["nothing", "blank", "header", "one column", "binary", "long", "wide", "huge cell"],
)
def test_what_is_no_table_is_refused_in_words(stage: Stage, data, words):
    with pytest.raises(Refused, match=words):
        read(data)
    answer = post(stage, "table/read", data)
    assert answer.status_code == 422
    assert words in answer.json()["message"]


def test_reading_guesses_and_shows_a_sample(stage: Stage):
    found = post(stage, "table/read", TABLE).json()
    assert found["columns"] == ["Shot", "What happens", "Location", "Secs"]
    assert found["guess"]["number"] == "Shot"
    assert found["sample"][0] == ["10", "The mill", "Quay", "4,5"]
    assert found["delimiter"] == ";"


def test_preview_stores_nothing_and_apply_stores_all(stage: Stage):
    shown = table(stage, "preview", TABLE).json()
    assert (shown["new"], shown["changed"], shown["errors"]) == (2, 0, 0)
    assert shown["unmentioned"] == ["1 Mill"]
    assert numbers() == ["1"]
    Production.objects.update(delivery_width_px=1080, delivery_height_px=1920)
    stage.production.refresh_from_db()
    done = table(stage, "apply", TABLE).json()
    assert numbers() == ["1", "10", "20"]
    wheel = Shot.objects.get(number="20")
    assert (wheel.title, wheel.place, wheel.screen_time_s) == ('The "wheel"', "", 6.0)
    assert wheel.delivery_width_px == stage.production.delivery_width_px
    # Of an upright film, a sensor that stands.
    assert wheel.sensor_width_mm == pytest.approx(24.9 * 9 / 16, abs=0.01)
    stage.api.post(f"{stage.path}/steps/{done['step']['id']}/undo")
    assert numbers() == ["1"]


def test_a_second_import_shows_what_changed_and_keeps_the_rest(stage: Stage):
    table(stage, "apply", TABLE)
    Shot.objects.filter(number="10").update(action="written since", focal_mm=85)
    changed = TABLE.replace("4,5", "5").replace("Quay", "Wharf")
    shown = table(stage, "preview", changed).json()
    assert (shown["new"], shown["changed"], shown["same"]) == (0, 1, 1)
    changes = {c["field"]: (c["now"], c["then"]) for c in shown["rows"][0]["changes"]}
    assert changes == {"Place": ("Quay", "Wharf"), "Screen time": ("4.5", "5")}
    done = table(stage, "apply", changed).json()
    mill = Shot.objects.get(number="10")
    assert (mill.place, mill.screen_time_s, mill.action, mill.focal_mm) == (
        "Wharf",
        5.0,
        "written since",
        85,
    )
    stage.api.post(f"{stage.path}/steps/{done['step']['id']}/undo")
    assert Shot.objects.get(number="10").place == "Quay"


BAD = (
    "Shot,What happens,Location,Secs\n"
    "10,Fine,Quay,4\n"
    "10,Twice the same number,Quay,4\n"
    ",No number,Quay,4\n"
    f"{'9' * 30},Number too long,Quay,4\n"
    "20,,Quay,4\n"
    "30,Never ends,Quay,99999\n"
    "40,No time,Quay,soon\n"
    "50,Too many, cells, in, this, line\n"
)


def test_each_line_has_its_own_error_and_nothing_is_half_imported(stage: Stage):
    shown = table(stage, "preview", BAD).json()
    problems = {r["line"]: " ".join(r["problems"]) for r in shown["rows"]}
    assert problems[2] == ""
    assert "stands in line 2 already" in problems[3]
    assert "Number must not be empty" in problems[4]
    assert "Number must be 20 characters or fewer" in problems[5]
    assert "title) must not be empty" in problems[6]
    assert "3600 or less" in problems[7]
    assert "“soon” is no number" in problems[8]
    assert "cells for 4 columns" in problems[9]
    refused = table(stage, "apply", BAD)
    assert refused.status_code == 422
    assert "7 lines have a problem" in refused.json()["message"]
    assert numbers() == ["1"]
    table(stage, "apply", BAD, leave_out="true")
    assert numbers() == ["1", "10"]
    only_bad = "Shot,What happens,Location,Secs\n,x,y,1\n"
    assert table(stage, "apply", only_bad, leave_out="true").status_code == 422


@pytest.mark.parametrize(
    ("mapping", "words"),
    [
        ({}, "Say which column holds: Number"),
        ({"number": "Shot"}, "What we see"),
        ({"number": "Shot", "title": "Nowhere"}, "no column called"),
        ({"number": "Shot", "title": "What happens", "iso": "Secs"}, "nothing that a shot takes"),
        ([], "must name a column"),
        ({"number": 3}, "must name a column"),
    ],
)
def test_bad_mappings_are_refused(stage: Stage, mapping, words):
    answer = table(stage, "preview", TABLE, mapping)
    assert answer.status_code == 422
    assert words in answer.json()["message"]


def test_a_mapping_that_is_not_json(stage: Stage):
    answer = post(stage, "table/preview", TABLE, mapping="{oops")
    assert answer.status_code == 422


def test_many_shots_come_in_few_queries(stage: Stage, django_assert_max_num_queries):
    rows = "".join(f"{i},Shot {i},Quay,4\n" for i in range(2, 302))
    with django_assert_max_num_queries(40):
        answer = table(stage, "apply", "Shot,What happens,Location,Secs\n" + rows)
    assert answer.status_code == 200
    assert len(numbers()) == 301
    assert [r["number"] for r in stage.api.get(stage.path + "/board").json()["rows"]][-1] == "301"


def test_what_goes_out_comes_back_the_same_and_runs_nothing(stage: Stage):
    Shot.objects.create(
        production=stage.production,
        number="2",
        title="=HYPERLINK(1)",
        action="+44 calls, with, commas",
        place="-quay",
        delivery_width_px=1920,
        delivery_height_px=804,
        playback_fps=24,
        position=5,
    )
    out = stage.api.client.get(f"/api{stage.path}/export/board.csv")
    rows = list(csv.DictReader(io.StringIO(out.content.decode())))
    assert rows[1]["title"] == "'=HYPERLINK(1)"
    assert rows[1]["line of action"].startswith("'+44")
    assert rows[0]["plates"] == "Miniature"
    mapping = {"number": "number", "title": "title", "action": "line of action", "place": "place"}
    shown = table(stage, "preview", out.content, mapping).json()
    assert (shown["same"], shown["changed"], shown["errors"]) == (2, 0, 0)


# --- edit lists

EDL = """TITLE: A FILM
FCM: NON-DROP FRAME

001  AX       V     C        00:00:00:00 00:00:04:00 01:00:00:00 01:00:04:00
* FROM CLIP NAME: SHOT_A
002  AX       V     C        00:00:00:00 00:00:02:12 01:00:04:00 01:00:06:12
* FROM CLIP NAME: SHOT_B
003  AX       V     C        00:00:10:00 00:00:11:00 01:00:06:12 01:00:07:12
* FROM CLIP NAME: SHOT_A
"""


def test_an_edl_becomes_shots_with_screen_times(stage: Stage):
    shown = post(stage, "edit/preview", EDL, "cut.edl").json()
    assert [(r["name"], r["seconds"], r["fate"]) for r in shown["rows"]] == [
        ("SHOT_A", 4.0, "new"),
        ("SHOT_B", 2.5, "new"),
        ("SHOT_A (2)", 1.0, "new"),
    ]
    assert numbers() == ["1"]
    post(stage, "edit/apply", EDL, "cut.edl")
    assert numbers() == ["1", "SHOT_A", "SHOT_B", "SHOT_A (2)"]


def test_a_new_cut_finds_its_shots_by_name_and_changes_only_time(stage: Stage):
    post(stage, "edit/apply", EDL, "cut.edl")
    Shot.objects.filter(edit_name="SHOT_B").update(number="7", title="The wheel breaks")
    longer = EDL.replace("00:00:02:12 01:00:04:00", "00:00:03:00 01:00:04:00").replace(
        "01:00:06:12\n* FROM CLIP NAME: SHOT_B", "01:00:07:00\n* FROM CLIP NAME: SHOT_B"
    )
    shown = post(stage, "edit/preview", longer, "cut2.edl").json()
    assert [r["fate"] for r in shown["rows"]] == ["same", "changed", "same"]
    assert shown["rows"][1]["changes"] == [{"field": "Screen time", "now": "2.5", "then": "3"}]
    done = post(stage, "edit/apply", longer, "cut2.edl").json()
    wheel = Shot.objects.get(edit_name="SHOT_B")
    assert (wheel.number, wheel.title, wheel.screen_time_s) == ("7", "The wheel breaks", 3.0)
    stage.api.post(f"{stage.path}/steps/{done['step']['id']}/undo")
    wheel.refresh_from_db()
    assert wheel.screen_time_s == 2.5


def test_the_board_as_a_timeline_and_back(stage: Stage):
    post(stage, "edit/apply", EDL, "cut.edl")
    out = stage.api.client.get(f"/api{stage.path}/export/board.otio").content
    timeline = otio.adapters.read_from_string(out.decode(), "otio_json")
    clips = list(timeline.find_clips())
    assert [c.name for c in clips] == ["1", "SHOT_A", "SHOT_B", "SHOT_A (2)"]
    assert clips[2].duration() == otio.opentime.RationalTime(60, 24)
    shown = post(stage, "edit/preview", out, "back.otio").json()
    assert [r["fate"] for r in shown["rows"]][1:] == ["same", "same", "same"]
    # The library's own EDL writer reads it, too.
    assert "SHOT_B" in otio.adapters.write_to_string(timeline, "cmx_3600", rate=24)


def broken_otio(change) -> bytes:
    whole = otio.schema.Timeline("x")
    whole.tracks.append(otio.schema.Track("v"))
    tree = json.loads(otio.adapters.write_to_string(whole, "otio_json"))
    change(tree)
    return json.dumps(tree).encode()


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("cut.mov", b"xx", "ending in .otio or .edl"),
        ("cut.edl", b"", "empty"),
        ("cut.edl", b"nothing like an edit list\n" * 20, ""),
        ("cut.edl", EDL.replace("01:00:00:00 01:00:04:00", "01:00").encode(), "cannot be read"),
        ("cut.edl", b"\xff\xfe\x00\x81\x8d\x8f", ""),
        ("cut.otio", b"{", "cannot be read"),
        ("cut.otio", b'{"OTIO_SCHEMA": "Unknown.9"}', ""),
        ("cut.otio", b"[1, 2, 3]", ""),
        ("cut.otio", broken_otio(lambda t: None), "no clips"),
        ("cut.otio", broken_otio(lambda t: t.update(tracks=3)), ""),
    ],
)
def test_broken_edit_lists_are_refused_in_words(stage: Stage, name, data, words):
    for what in ("preview", "apply"):
        answer = post(stage, f"edit/{what}", data, name)
        assert answer.status_code == 422, answer.content
        assert words in answer.json()["message"]
    assert numbers() == ["1"]


@pytest.mark.parametrize("deep", ["[" * 3_000_000, '{"a":' * 200_000 + "1" + "}" * 200_000])
def test_an_edit_list_nested_without_end_does_not_take_the_server_down(stage: Stage, deep):
    answer = post(stage, "edit/preview", deep, "deep.otio")
    assert answer.status_code == 422
    assert "nested deeper" in answer.json()["message"]


@pytest.mark.parametrize(
    ("text", "depth"),
    [("{}", 1), ('{"a": [1, [2]]}', 3), ('"[[[["', 0), (r'["\"[[[", {}]', 2), ("3", 0)],
)
def test_depth_is_counted_outside_strings(text, depth):
    from jungoptic.web.reading.edit_list import deepest

    assert deepest(json.loads(text)) == depth


def test_a_clip_of_no_length_is_an_error_of_its_line(stage: Stage):
    timeline = otio.schema.Timeline("x")
    track = otio.schema.Track("v", kind=otio.schema.TrackKind.Video)
    timeline.tracks.append(track)
    for name, frames in (("A", 48), ("B", 0)):
        track.append(
            otio.schema.Clip(
                name,
                source_range=otio.opentime.TimeRange(
                    otio.opentime.RationalTime(0, 24), otio.opentime.RationalTime(frames, 24)
                ),
            )
        )
        track.append(otio.schema.Gap(duration=otio.opentime.RationalTime(12, 24)))
    data = otio.adapters.write_to_string(timeline, "otio_json").encode()
    shown = post(stage, "edit/preview", data, "x.otio").json()
    assert [r["fate"] for r in shown["rows"]] == ["new", "error"]
    assert "0.04 or more" in shown["rows"][1]["problems"][0]
    assert shown["notes"] == ["2 gaps and transitions are not shots."]


def test_rates_with_a_fraction_stay_exact(stage: Stage):
    # 24000/1001 as EDLs and timelines carry it: 240 frames are 10.01 s.
    rate = 24000 / 1001
    clip = otio.schema.Clip(
        "A",
        source_range=otio.opentime.TimeRange(
            otio.opentime.RationalTime(0, rate), otio.opentime.RationalTime(240, rate)
        ),
    )
    timeline = otio.schema.Timeline("x")
    track = otio.schema.Track("v", kind=otio.schema.TrackKind.Video)
    track.append(clip)
    timeline.tracks.append(track)
    data = otio.adapters.write_to_string(timeline, "otio_json").encode()
    assert post(stage, "edit/preview", data, "x.otio").json()["rows"][0]["seconds"] == 10.01


def test_the_breakdown_on_paper(stage: Stage):
    Shot.objects.filter(pk=stage.shot.pk).update(title="<script>x</script>")
    job = stage.api.work(stage.path, "breakdown-pdf")
    assert (job["state"], job["file_name"]) == ("done", "breakdown.pdf"), job["problem"]
    answer = stage.api.get(f"{stage.path}/jobs/{job['id']}/file")
    assert answer["Content-Type"] == "application/pdf"
    assert answer.getvalue().startswith(b"%PDF")
