"""Pictures and their marks: what comes in, what is kept, what is refused, what the marks say."""

from __future__ import annotations

import io
import struct
import zlib

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from jungoptic.web.reading.picture import MOST_PIXELS
from jungoptic.web.sketches.models import Sketch
from tests.conftest import Stage, sent


def picture(kind="PNG", size=(64, 40), mode="RGB", **save) -> bytes:
    out = io.BytesIO()
    image = Image.new(mode, size, "red" if mode != "RGBA" else (255, 0, 0, 128))
    image.save(out, kind, **save)
    return out.getvalue()


def send(stage: Stage, data: bytes, name="scout.png", **form):
    path = f"/api{stage.path}/shots/{stage.shot.pk}/sketches"
    return stage.api.client.post(path, {"file": SimpleUploadedFile(name, data), **form})


def get(stage: Stage, sketch_id: str, size="whole") -> Image.Image:
    answer = stage.api.client.get(f"/api{stage.path}/sketches/{sketch_id}/picture?size={size}")
    assert answer.status_code == 200
    assert answer["X-Content-Type-Options"] == "nosniff"
    return Image.open(io.BytesIO(sent(answer)))


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP"])
def test_a_picture_is_kept_and_given_back(stage: Stage, kind):
    made = send(stage, picture(kind), f"Scout still.{kind.lower()}")
    assert made.status_code == 200, made.content
    out = made.json()
    assert (out["title"], out["width_px"], out["height_px"]) == ("Scout still", 64, 40)
    assert get(stage, out["id"]).size == (64, 40)
    assert get(stage, out["id"], "thumb").format == "JPEG"
    # Whatever it is called, it is read as what it is.
    assert send(stage, picture(kind), "wrong.png").status_code == 200


def kept(sketch: str) -> bytes:
    """The file as it lies on the disk."""
    with Sketch.objects.get(pk=sketch).picture.open() as file:
        return bytes(file.read())


def test_it_is_turned_upright_and_stripped(stage: Stage):
    exif = Image.Exif()
    exif[274] = 6  # the camera lay on its side
    exif[270] = "<script>alert(1)</script>"
    out = send(stage, picture("JPEG", (60, 30), exif=exif.tobytes()), "side.jpg").json()
    assert (out["width_px"], out["height_px"]) == (30, 60)
    back = get(stage, out["id"])
    assert back.size == (30, 60)
    assert not back.getexif()
    assert b"script" not in kept(out["id"])


def test_scripts_in_text_chunks_are_dropped(stage: Stage):
    from PIL.PngImagePlugin import PngInfo

    info = PngInfo()
    info.add_text("Comment", "<script>alert(1)</script>")
    out = send(stage, picture("PNG", pnginfo=info)).json()
    assert b"script" not in kept(out["id"])


def test_large_pictures_are_made_smaller_and_see_through_ones_flattened(stage: Stage):
    out = send(stage, picture("JPEG", (6000, 300)), "wide.jpg").json()
    assert (out["width_px"], out["height_px"]) == (4096, 205)
    out = send(stage, picture("PNG", (20, 20), "RGBA")).json()
    pixel = get(stage, out["id"]).convert("RGB").getpixel((5, 5))
    assert pixel[0] > 230
    assert 100 < pixel[1] < 140


def test_a_phones_photograph_with_a_second_picture_behind_it_is_taken(stage: Stage):
    out = io.BytesIO()
    first, second = Image.new("RGB", (60, 40), "red"), Image.new("RGB", (30, 20), "blue")
    first.save(out, "MPO", save_all=True, append_images=[second])
    made = send(stage, out.getvalue(), "phone.jpg")
    assert made.status_code == 200, made.content
    picture = get(stage, made.json()["id"]).convert("RGB")
    assert picture.size == (60, 40)
    assert picture.getpixel((5, 5))[0] > 200


def bomb(width: int, height: int) -> bytes:
    """A PNG whose header promises far more pixels than its few bytes hold."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        body = kind + data
        return struct.pack(">I", len(data)) + body + struct.pack(">I", zlib.crc32(body))

    header = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", header)
        + chunk(b"IDAT", zlib.compress(b"\x00" * 1000))
        + chunk(b"IEND", b"")
    )


def frames(kind: str) -> bytes:
    out = io.BytesIO()
    one, two = Image.new("RGB", (20, 20), "red"), Image.new("RGB", (20, 20), "blue")
    one.save(out, kind, save_all=True, append_images=[two])
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "empty"),
        (picture("PNG", (200, 200))[:200], "broken or cut short"),
        (picture("JPEG", (200, 200))[:300], "broken or cut short"),
        (bomb(60_000, 60_000), "million pixels"),
        (bomb(8000, MOST_PIXELS // 8000 + 10), "million pixels"),
        (bomb(300, 300), "broken or cut short"),
        (frames("PNG"), "animated"),
        (frames("WEBP"), "animated"),
        (frames("GIF"), "a GIF"),
        (b"%PDF-1.7 nothing", "a PDF"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>", "SVG"),
        (b"\x00\x00\x00\x18ftypheic" + b"\x00" * 40, "HEIC"),
        (picture("BMP"), "a BMP"),
        (picture("TIFF"), "TIFF"),
        (b"hello there, no picture", "no picture we know"),
        (picture("PNG", (4, 400)), "smaller than 8"),
    ],
    ids=lambda v: v if isinstance(v, str) else "",
)
def test_bad_pictures_are_refused_in_words(stage: Stage, data, words):
    answer = send(stage, data)
    assert answer.status_code == 422, answer.content
    assert words in answer.json()["message"]
    assert "file" in answer.json()["fields"]
    assert Sketch.objects.count() == 0


def test_an_oversize_file_is_refused_before_it_is_read(stage: Stage, settings):
    settings.FILE_UPLOAD_LIMIT = 10_000
    answer = send(stage, b"x" * 20_000)
    assert answer.status_code == 413
    assert "10 kB" in answer.json()["message"]


def test_without_a_file_it_says_so(stage: Stage):
    path = f"/api{stage.path}/shots/{stage.shot.pk}/sketches"
    answer = stage.api.client.post(path, {"title": "x"})
    assert answer.status_code == 422
    assert "File is missing" in answer.json()["message"]


def test_removing_a_picture_removes_its_files(
    stage: Stage, tmp_path, django_capture_on_commit_callbacks
):
    out = send(stage, picture()).json()
    assert len(list(tmp_path.rglob("*.*"))) == 2
    with django_capture_on_commit_callbacks(execute=True):
        assert stage.api.delete(f"{stage.path}/sketches/{out['id']}").status_code == 204
    assert list(tmp_path.rglob("*.*")) == []
    answer = stage.api.client.get(f"/api{stage.path}/sketches/{out['id']}/picture")
    assert answer.status_code == 404


def draw(stage: Stage) -> dict:
    answer = stage.api.post(f"{stage.path}/shots/{stage.shot.pk}/sketches/frame", {})
    assert answer.status_code == 200, answer.content
    return answer.json()


def test_a_sketch_drawn_from_the_frame_shows_what_the_camera_sees(stage: Stage):
    out = draw(stage)
    assert out["planned"]
    assert out["drawn"]
    assert not out["stale"]
    image = get(stage, out["id"]).convert("L")
    assert image.width / image.height == pytest.approx(1920 / 804, rel=0.01)
    # The box of 6 x 7 m at 20 m, 3 m to the left, is darker than the paper beside it.
    from jungoptic.web.plans.bridge import load
    from jungoptic.web.plans.stored import plan_json

    shot = load(plan_json(stage.shot))
    camera = shot.world.camera(shot.delivery)
    inside, outside = camera.project(
        [(-3.0, 20.0, 2.0), (6.0, 20.0, 3.0)], image.width, image.height
    )
    assert image.getpixel(tuple(map(int, inside))) < image.getpixel(tuple(map(int, outside))) - 15


def test_a_stale_sketch_says_so_and_is_drawn_again(stage: Stage):
    out = draw(stage)
    stage.api.patch(f"{stage.path}/shots/{stage.shot.pk}", {"revision": 1, "focal_mm": 50.0})
    path = f"{stage.path}/shots/{stage.shot.pk}/sketches"
    assert stage.api.get(path).json()["sketches"][0]["stale"]
    again = stage.api.post(f"{stage.path}/sketches/{out['id']}/redraw").json()
    assert not again["stale"]
    assert again["revision"] > out["revision"]
    uploaded = send(stage, picture()).json()
    refused = stage.api.post(f"{stage.path}/sketches/{uploaded['id']}/redraw")
    assert refused.status_code == 422


def mark(stage: Stage, sketch: dict, layer: str, points, **more):
    return stage.api.post(
        f"{stage.path}/sketches/{sketch['id']}/annotations",
        {"layer": layer, "points": points, **more},
    )


def test_marks_say_what_crosses(stage: Stage):
    out = draw(stage)
    line = mark(stage, out, "matte", [[0, 0.5], [1, 0.5]], name="Roof line").json()
    mark(stage, out, "action", [[0.1, 0.8], [0.5, 0.2], [0.9, 0.8]], name="Walk")
    path = f"{stage.path}/sketches/{out['id']}/report"
    # The miniature's box is added, not real: it may stand over the line.
    found = stage.api.get(path).json()
    assert found["camera_known"] == "planned"
    assert len(found["crossings"]) == 2
    assert [c["x_px"] for c in found["crossings"]] == pytest.approx([576, 1344])
    assert "crosses roof line 2 times" in found["findings"][0]["sentence"]
    # Something that is really there.
    stage.api.post(
        f"{stage.path}/shots/{stage.shot.pk}/stand-ins",
        {"name": "Poplar", "kind": "box", "x_m": 2, "y_m": 31, "height_m": 9, "width_m": 1},
    )
    found = stage.api.get(path).json()
    tree = next(f for f in found["findings"] if f["key"].startswith("matte:"))
    assert "Poplar is 9.000 m tall at 31.00 m" in tree["sentence"]
    assert any(r["sentence"].startswith("Tilt") for r in tree["remedies"])
    stage.api.patch(
        f"{stage.path}/annotations/{line['id']}", {"revision": 1, "points": [[0, -0.5], [1, -0.5]]}
    )
    found = stage.api.get(path).json()
    tree = next(f for f in found["findings"] if f["key"].startswith("matte:"))
    assert tree["verdict"] == "holds"


def test_a_scout_still_gets_its_camera_from_one_known_thing(stage: Stage):
    out = send(stage, picture("JPEG", (2000, 1000)), "scout.jpg").json()
    mark(stage, out, "matte", [[0, 0.34], [1, 0.34]])
    path = f"{stage.path}/sketches/{out['id']}/report"
    assert stage.api.get(path).json()["camera_known"] == "no"
    mark(stage, out, "reference", [[0.25, 0.3], [0.25, 0.55]], distance_m=12, height_m=3)
    found = stage.api.get(path).json()
    assert found["camera_known"] == "thing"
    assert "40.0 px above" in found["findings"][0]["sentence"]


def test_marks_are_edited_against_what_was_seen(stage: Stage):
    out = draw(stage)
    made = mark(stage, out, "split", [[0.5, 0], [0.5, 1]]).json()
    path = f"{stage.path}/annotations/{made['id']}"
    assert stage.api.patch(path, {"revision": 1, "note": "here"}).json()["note"] == "here"
    stale = stage.api.patch(path, {"revision": 1, "note": "late"})
    assert stale.status_code == 409
    assert stale.json()["current"]["note"] == "here"
    assert stage.api.delete(path).status_code == 204
    for body in (
        {"layer": "graffiti", "points": [[0, 0]]},
        {"layer": "matte", "points": []},
        {"layer": "matte", "points": [[0]]},
        {"layer": "matte", "points": [[0, 9]]},
        {"layer": "matte", "points": [[0, 0]] * 501},
        {"layer": "matte", "points": [[0, 0]], "distance_m": 0},
        {"layer": "matte", "points": [[0, 0]], "height_m": "tall"},
    ):
        answer = stage.api.post(f"{stage.path}/sketches/{out['id']}/annotations", body)
        assert answer.status_code == 422, body


def test_a_picture_is_retitled_and_its_camera_declared(stage: Stage):
    out = send(stage, picture()).json()
    path = f"{stage.path}/sketches/{out['id']}"
    edited = stage.api.patch(path, {"revision": 1, "title": "Quay", "planned": True}).json()
    assert (edited["title"], edited["planned"], edited["drawn"]) == ("Quay", True, False)


@pytest.mark.parametrize("marks", ["true", "false"])
def test_pictures_on_paper(stage: Stage, marks):
    out = draw(stage)
    for layer in ("matte", "holdout", "remove", "split", "action", "tracking", "reference"):
        mark(stage, out, layer, [[0.1, 0.2], [0.4, 0.5], [0.3, 0.6]], name="<b>n</b>", note="why")
    path = f"/api{stage.path}/shots/{stage.shot.pk}/sketches.pdf?marks={marks}"
    answer = stage.api.client.get(path)
    assert answer["Content-Type"] == "application/pdf"
    assert answer.content.startswith(b"%PDF")


def test_paper_fetches_nothing_from_elsewhere():
    from weasyprint.urls import FatalURLFetchingError

    from jungoptic.web.printing.pages import document

    for address in ("http://127.0.0.1:9/x.png", "file:///etc/passwd"):
        with pytest.raises(FatalURLFetchingError, match="Error fetching"):
            document(f'<img src="{address}">')
