"""Files from outside cannot stop the server: time goes with their length, memory has an end, and
what kills its reader kills nothing else."""

from __future__ import annotations

import io
import json
import subprocess
import sys

import opentimelineio as otio
import pytest
from PIL import Image

from jungoptic.web.reading import child
from jungoptic.web.reading.edit_list import MOST_EVENTS, _check_json, _check_lines, read
from jungoptic.web.reading.refusal import Refusal


def timeline(*clips: otio.schema.Clip) -> bytes:
    found = otio.schema.Timeline("x")
    track = otio.schema.Track("v", kind=otio.schema.TrackKind.Video)
    track.extend(clips)
    found.tracks.append(track)
    return otio.adapters.write_to_string(found, "otio_json").encode()


def ranged(name: str, frames: float, rate: float = 24.0) -> otio.schema.Clip:
    time = otio.opentime.RationalTime
    return otio.schema.Clip(
        name, source_range=otio.opentime.TimeRange(time(0, rate), time(frames, rate))
    )


def steps(check, text: str) -> int:
    """How many lines of our own code run while a text is checked: a count, since a clock lies on a
    busy machine."""
    count = 0

    def trace(frame, event, argument):
        nonlocal count
        count += event == "line"
        return trace

    sys.settrace(trace)
    try:
        check(text)
    except Refusal:
        pass
    finally:
        sys.settrace(None)
    return count


class TestEditLists:
    @pytest.mark.parametrize("piece", ['\\"', '"', "[", '{"a":[', "1 ", "\\\\"])
    def test_work_goes_with_the_length(self, piece):
        short, long = (steps(_check_json, '"' + piece * n) for n in (500, 5000))
        assert long <= 12 * short + 100

    def test_escaped_quotes_without_end_are_refused_at_once(self):
        # 120 kB of them kept a worker busy for minutes when brackets were sought by pattern.
        with pytest.raises(Refusal, match="as JSON"):
            read("x.otio", b'"' + b'\\"' * 60_000, 24.0)

    def test_too_many_events_are_refused_before_any_is_read(self):
        line = "{:06d}  AX V C 00:00:00:00 00:00:01:00 00:00:00:00 00:00:01:00\n"
        text = "".join(line.format(i) for i in range(100_000))
        with pytest.raises(Refusal, match=f"{MOST_EVENTS:,}"):
            _check_lines(text)

    def test_a_clip_without_a_range_takes_its_medias(self):
        time = otio.opentime.RationalTime
        media = otio.schema.ExternalReference(
            "a.mov", available_range=otio.opentime.TimeRange(time(0, 24), time(48, 24))
        )
        clips, notes = read("x.otio", timeline(otio.schema.Clip("a", media)), 24.0)
        assert [(c.label, c.seconds) for c in clips] == [("a", 2.0)]
        assert notes == []

    def test_clips_without_any_length_are_left_out_and_counted(self):
        data = timeline(otio.schema.Clip("a"), ranged("b", 24), ranged("c", 24, 0.0))
        clips, notes = read("x.otio", data, 24.0)
        assert [c.label for c in clips] == ["b"]
        assert notes == ["2 clips do not say how long they are and are left out."]

    @pytest.mark.parametrize("odd", ["text", 7, [1], {"number": 3}, {"number": {"a": 1}}, None])
    def test_other_programs_notes_may_have_any_shape(self, odd):
        clip = ranged("a", 24)
        clip.metadata["jungoptic"] = odd
        clips, _ = read("x.otio", timeline(clip), 24.0)
        assert clips[0].number == "a"


class TestTheChild:
    def test_a_picture_comes_back_smaller_and_bare(self):
        out = io.BytesIO()
        Image.new("RGB", (5000, 100), "red").save(out, "JPEG")
        head, (data, thumb) = child.read("picture", out.getvalue())
        assert head["suffix"] == ".jpg"
        assert Image.open(io.BytesIO(data)).size == (head["width_px"], head["height_px"])
        assert max(Image.open(io.BytesIO(thumb)).size) == 480

    def test_a_photograph_is_reduced_while_it_is_unpacked(self):
        from jungoptic.web.reading.picture import _opened

        out = io.BytesIO()
        Image.new("RGB", (5600, 4400), "red").save(out, "JPEG")
        assert max(_opened(out.getvalue()).size) <= 5600 / 1
        assert _opened(out.getvalue()).tile[0][0] == "jpeg"

    def test_memory_has_an_end(self, monkeypatch):
        code = (
            "import json, sys, jungoptic.web.reading.__main__ as m;"
            "m.MEMORY['picture'] = 200 << 20;"
            "m.TASKS['picture'] = lambda data, _: ({}, [bytes(400 << 20)]);"
            "sys.argv[1:] = ['picture', '{}'];"
            "sys.exit(m.main())"
        )
        done = subprocess.run(
            [sys.executable, "-c", code],
            input=b"x",
            capture_output=True,
            env={"PYTHONPATH": str(child.SOURCE)},
            check=False,
        )
        assert "more memory" in json.loads(done.stdout.splitlines()[0])["head"]["refused"]

    def test_a_reader_that_dies_is_a_sentence(self, monkeypatch):
        monkeypatch.setattr(child.sys, "executable", "/bin/false")
        with pytest.raises(Refusal, match="whatever opens it, breaks"):
            child.read("picture", b"x")

    def test_a_reader_that_hangs_is_ended(self, monkeypatch):
        def hangs(*args, timeout, **more):
            raise subprocess.TimeoutExpired("x", timeout)

        monkeypatch.setattr(child.subprocess, "run", hangs)
        with pytest.raises(Refusal, match="too long"):
            child.read("picture", b"x")
        # And the next one has its turn.
        monkeypatch.undo()
        with pytest.raises(Refusal, match="no picture we know"):
            child.read("picture", b"xxxxxxxxxxxx")

    def test_one_at_a_time(self, monkeypatch):
        monkeypatch.setattr(child, "QUEUE_S", 0.01)
        with child._ONE, pytest.raises(child.Busy):
            child.read("picture", b"x")


def test_waiting_too_long_is_a_503_with_when_to_come_again(stage, monkeypatch):
    def busy(*args, **more):
        raise child.Busy("Other files are being read just now; try again in a minute.")

    monkeypatch.setattr(child, "read", busy)
    path = f"/api{stage.path}/shots/{stage.shot.pk}/sketches"
    answer = stage.api.client.post(path, {"file": io.BytesIO(b"x"), "title": "x"})
    assert (answer.status_code, answer["Retry-After"]) == (503, "30")
    assert "try again" in answer.json()["message"]
