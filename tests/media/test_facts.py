"""What is read out of files, against how they were made. Names of codecs, samples and tags: ITU-R
BT.601 for the notation of chroma samples, Exif 2.32 for tags, ISO/IEC 14496-12 for containers."""

from __future__ import annotations

import time
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
import pytest
from PIL import Image

from jungoptic.media import clip_facts, frames, reading, stills
from jungoptic.media.kinds import Unreadable

from .made import clip, photograph, ramp, raw

ALL_ALONE = {"g": "1", "bf": "0"}
#: What a camera may record in, how it was told to, and what must be found.
RECORDED: dict[str, tuple[str, dict[str, Any], dict[str, Any]]] = {
    "long-gop-8-bit": (
        "a.mp4",
        {"options": {"g": "12"}},
        {"codec": "h264", "bit_depth": 8, "subsampling": "4:2:0", "key_every": 12},
    ),
    "intra-10-bit": (
        "a.mov",
        {"pixels": "yuv422p10le", "options": ALL_ALONE},
        {"codec": "h264", "bit_depth": 10, "subsampling": "4:2:2", "key_every": 1},
    ),
    "hevc": (
        "a.mp4",
        {"codec": "libx265", "pixels": "yuv420p10le", "options": {"x265-params": "keyint=8"}},
        {"codec": "hevc", "bit_depth": 10, "subsampling": "4:2:0", "key_every": 8},
    ),
    "prores": (
        "a.mov",
        {"codec": "prores_ks", "pixels": "yuv422p10le"},
        {"codec": "prores", "bit_depth": 10, "subsampling": "4:2:2", "key_every": 1},
    ),
    "dnxhr": (
        "a.mov",
        {"codec": "dnxhd", "pixels": "yuv422p", "options": {"profile": "dnxhr_hq"}},
        {"codec": "dnxhd", "bit_depth": 8, "subsampling": "4:2:2", "key_every": 1},
    ),
    "vp9": (
        "a.webm",
        {"codec": "libvpx-vp9", "options": {"g": "6", "deadline": "realtime"}},
        {"codec": "vp9", "bit_depth": 8, "subsampling": "4:2:0", "container": "matroska"},
    ),
    "mjpeg": (
        "a.avi",
        {"codec": "mjpeg", "pixels": "yuvj422p"},
        {"codec": "mjpeg", "bit_depth": 8, "subsampling": "4:2:2", "key_every": 1},
    ),
    "full-chroma": (
        "a.mkv",
        {"codec": "ffv1", "pixels": "yuv444p10le", "options": {"g": "1"}},
        {"codec": "ffv1", "bit_depth": 10, "subsampling": "4:4:4", "key_every": 1},
    ),
}


@pytest.mark.parametrize("name", RECORDED)
def test_a_clip_is_told_as_it_was_recorded(name: str, tmp_path: Path) -> None:
    file, how, wanted = RECORDED[name]
    found = clip_facts.facts_of(clip(tmp_path / file, **how))
    assert {k: getattr(found, k) for k in wanted} == wanted
    assert (found.width_px, found.height_px, found.frames) == (320, 180, 24)
    assert found.fps == pytest.approx(24.0, rel=1e-4)
    assert found.duration_s == pytest.approx(1.0, rel=1e-3)
    assert found.uneven == 0.0
    assert not found.interlaced


@pytest.mark.parametrize("fps", [Fraction(24000, 1001), Fraction(30000, 1001), 25, 120])
def test_rates_that_are_no_whole_numbers_stay_fractions(fps: Any, tmp_path: Path) -> None:
    found = clip_facts.facts_of(clip(tmp_path / "a.mp4", fps=fps))
    assert found.fps == pytest.approx(float(fps), rel=1e-9)


def test_a_phone_that_dropped_a_frame_is_uneven(tmp_path: Path) -> None:
    times = [n * 40 for n in range(25)]
    del times[10]
    found = clip_facts.facts_of(clip(tmp_path / "a.mp4", fps=25, times=times))
    # The one gap is twice the usual one.
    assert found.uneven == pytest.approx(1.0, abs=0.02)
    assert found.frames == 24


def test_times_that_a_container_rounds_are_not_uneven(tmp_path: Path) -> None:
    # Matroska counts milliseconds: 41 and 42 of them at 24 frames a second.
    found = clip_facts.facts_of(clip(tmp_path / "a.mkv", "ffv1", count=48))
    assert found.uneven == 0.0


def test_eight_bits_in_a_file_of_ten_are_told_where_they_can_be(tmp_path: Path) -> None:
    def filled(path: Path, codec: str) -> Path:
        picture = (ramp() * 255 + 0.5).astype(np.uint8)
        eight = av.VideoFrame.from_ndarray(picture, format="rgb24").reformat(format="yuv422p")
        with av.open(str(path), "w") as file:
            stream: Any = file.add_stream(codec, rate=Fraction(24))
            stream.width, stream.height, stream.pix_fmt = 320, 180, "yuv422p10le"
            frame = av.VideoFrame(320, 180, "yuv422p10le")
            for few, many in zip(eight.planes, frame.planes, strict=True):
                low = np.frombuffer(few, np.uint8).reshape(few.height, few.line_size)
                high = np.zeros((many.height, many.line_size // 2), np.uint16)
                high[:, : many.width] = low[:, : few.width].astype(np.uint16) << 2
                many.update(high.tobytes())
            frame.pts = 0
            file.mux(stream.encode(frame))
            file.mux(stream.encode())
        return path

    assert clip_facts.facts_of(filled(tmp_path / "a.mkv", "ffv1")).used_bits == 8
    # A codec that works the picture over fills the lowest bits: nothing can be told, nothing is.
    assert clip_facts.facts_of(filled(tmp_path / "a.mov", "prores_ks")).used_bits is None
    honest = clip(tmp_path / "b.mkv", "ffv1", "yuv422p10le")
    assert clip_facts.facts_of(honest).used_bits is None


def test_a_clip_filmed_upright_is_told_as_it_is_shown(tmp_path: Path) -> None:
    lying, turned = clip(tmp_path / "a.mp4"), tmp_path / "b.mp4"
    with av.open(str(lying)) as source, av.open(str(turned), "w") as file:
        stream: Any = file.add_stream_from_template(source.streams.video[0])
        for packet in source.demux(video=0):
            if packet.dts is not None:
                packet.stream = stream
                file.mux(packet)
    data = bytearray(turned.read_bytes())
    # The matrix of the track header (ISO/IEC 14496-12, 8.3.2): a quarter turn clockwise.
    at = data.index(b"tkhd") + 4 + 40
    one = 0x00010000
    quarter = (0, one, 0, 0x100000000 - one, 0, 0, 180 * one, 0, 0x40000000)
    data[at : at + 36] = b"".join(value.to_bytes(4, "big") for value in quarter)
    turned.write_bytes(data)
    found = clip_facts.facts_of(turned)
    assert (found.turned_deg, found.width_px, found.height_px) == (90, 180, 320)
    ((_, picture),) = frames.shown(turned, [1], 24.0, 1920)
    assert picture.shape == (320, 180, 3)
    # The ramp ran to the right; a quarter turn clockwise makes it run down.
    assert picture[300, 90].mean() > picture[20, 90].mean() + 80


def test_frames_are_found_where_they_are(tmp_path: Path) -> None:
    # The bar stands where the frame's number says, whatever frames stand alone.
    for name, options in (("a.mp4", {"g": "24", "bf": "2"}), ("b.mp4", ALL_ALONE)):
        path = clip(tmp_path / name, count=49, options=options)
        for number, picture in frames.shown(path, [1, 2, 25, 48, 49], 24.0, 320):
            red = picture[75].astype(int)
            bar = np.flatnonzero(red[:, 0] - red[:, 2] > 100)
            assert bar.mean() == pytest.approx((number - 1) / 48 * 300 + 9.5, abs=2.5), number


def test_frames_from_all_over_a_clip() -> None:
    assert frames.spread(5, 3) == [1, 2, 3]
    assert frames.spread(5, 101) == [1, 26, 51, 76, 101]
    for count in range(2, 13):
        for of in range(1, 200):
            found = frames.spread(count, of)
            assert found == sorted(set(found))
            assert found[0] == 1
            assert found[-1] == of
            assert len(found) == min(count, of)


def test_what_a_camera_wrote_beside_a_photograph(tmp_path: Path) -> None:
    tags = {
        0x829A: (1, 48),
        0x829D: (28, 10),
        0x8827: 800,
        0x9003: "2026:10:17 18:02:11",
        0x9011: "+02:00",
        0x920A: (35, 1),
        0xA405: 52,
    }
    found = stills.facts_of(photograph(tmp_path / "a.jpg", tags, subsampling="4:2:2"))
    # 35 mm, as it is engraved; not 52, which is what it would be on another camera.
    assert found.readings == {
        "focal_mm": pytest.approx(35.0),
        "f_number": pytest.approx(2.8),
        "exposure_s": pytest.approx(1 / 48),
        "iso": 800.0,
    }
    assert found.shot_at == "2026-10-17T18:02:11+02:00"
    assert (found.codec, found.bit_depth, found.subsampling) == ("JPEG", 8, "4:2:2")


def test_a_camera_that_does_not_know_says_zero(tmp_path: Path) -> None:
    # A lens without contacts: f/0 and 0 mm; a sensitivity that does not fit in its tag.
    tags = {0x829D: (0, 1), 0x920A: (0, 1), 0x8827: 65535, 0x8832: 102400, 0x9003: "0000:00:00"}
    found = stills.facts_of(photograph(tmp_path / "a.jpg", tags))
    assert found.readings == {"iso": 102400.0}
    assert found.shot_at == ""


def test_a_photograph_is_turned_once(tmp_path: Path) -> None:
    path = photograph(tmp_path / "a.jpg", {0x0112: 6})
    found = stills.facts_of(path)
    picture = stills.read(path)
    assert (found.turned_deg, found.width_px, found.height_px) == (90, 180, 320)
    assert picture.shape == (320, 180, 3)
    assert picture[300, 90].mean() > picture[20, 90].mean() + 0.3


@pytest.mark.parametrize(("ending", "bits"), [("png", 8), ("png", 16), ("tiff", 8), ("tiff", 16)])
def test_stills_of_eight_and_sixteen_bits(ending: str, bits: int, tmp_path: Path) -> None:
    import cv2

    whole = 255 if bits == 8 else 65535
    picture = (ramp() * whole + 0.5).astype(np.uint8 if bits == 8 else np.uint16)
    path = tmp_path / f"a.{ending}"
    cv2.imwrite(str(path), picture[..., ::-1])
    found = stills.facts_of(path)
    assert (found.bit_depth, found.width_px, found.height_px) == (bits, 320, 180)
    assert found.subsampling == "4:4:4"
    assert np.abs(stills.read(path) - ramp()).max() < 0.6 / whole + 1e-6


def test_a_raw_file_in_the_open_format(tmp_path: Path) -> None:
    # A name that lies about it changes nothing.
    path = raw(tmp_path / "a.jpg")
    found = stills.facts_of(path)
    assert (found.codec, found.bit_depth) == ("raw", 12)
    assert (found.width_px, found.height_px) == (64, 48)
    picture = stills.read(path)
    across = picture[10:-10].mean(axis=(0, 2))
    assert np.all(np.diff(across[4:-4]) > -0.01)
    assert across[-6] > across[6] + 0.5


BROKEN: dict[str, Any] = {
    "empty": lambda p: p.write_bytes(b""),
    "zeros": lambda p: p.write_bytes(bytes(100_000)),
    "noise": lambda p: p.write_bytes(np.random.default_rng(1).bytes(100_000)),
    "words": lambda p: p.write_text("slate,take\n1,2\n" * 500),
    "list of others": lambda p: p.write_text("#EXTM3U\n#EXTINF:10,\nfile:///etc/hostname\n"),
    "list to join": lambda p: p.write_text("ffconcat version 1.0\nfile /etc/hostname\n"),
    "half a photograph": lambda p: p.write_bytes(photograph(p).read_bytes()[:900]),
    "head of a clip": lambda p: p.write_bytes(clip(p.with_suffix(".mp4")).read_bytes()[:400]),
    "animated": lambda p: Image.new("RGB", (32, 32)).save(
        p, "WEBP", save_all=True, append_images=[Image.new("RGB", (32, 32), "white")]
    ),
    "one dot": lambda p: Image.new("RGB", (1, 1)).save(p, "PNG"),
    "bomb": lambda p: p.write_bytes(_bomb()),
    "archive": lambda p: p.write_bytes(b"PK\x03\x04" + bytes(500)),
    "half a raw": lambda p: p.write_bytes(raw(p).read_bytes()[:150]),
    "phone still": lambda p: p.write_bytes(b"\0\0\0\x18ftypheic" + bytes(500)),
}


def _bomb() -> bytes:
    """A PNG of a few bytes that says it is 60,000 pixels square."""
    import struct
    import zlib

    def chunk(kind: bytes, data: bytes) -> bytes:
        tail = struct.pack(">I", zlib.crc32(kind + data))
        return struct.pack(">I", len(data)) + kind + data + tail

    head = struct.pack(">IIBBBBB", 60_000, 60_000, 8, 2, 0, 0, 0)
    packed = zlib.compress(bytes(1000))
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", packed) + chunk(b"IEND", b"")
    )


def _looked_at(path: Path) -> None:
    list(reading.looks([path], reading.facts_of(path), 3, 64))


@pytest.mark.parametrize("what", BROKEN)
@pytest.mark.parametrize("ending", [".jpg", ".mov", ".dng"])
def test_what_is_no_recording_is_refused_in_words(what: str, ending: str, tmp_path: Path) -> None:
    path = tmp_path / f"a{ending}"
    BROKEN[what](path)
    began = time.process_time()
    with pytest.raises(Unreadable) as refused:
        _looked_at(path)
    sentence = str(refused.value)
    assert sentence[0].isupper()
    assert sentence.endswith(".")
    assert str(tmp_path) not in sentence
    # A bomb is refused by what it says, not after it went off.
    assert time.process_time() - began < 20.0


def test_sound_without_a_picture_is_named(tmp_path: Path) -> None:
    path = tmp_path / "a.wav"
    with av.open(str(path), "w") as file:
        stream: Any = file.add_stream("pcm_s16le", rate=48_000, layout="mono")
        frame = av.AudioFrame.from_ndarray(np.zeros((1, 4800), np.int16), "s16", "mono")
        frame.sample_rate = 48_000
        file.mux(stream.encode(frame))
        file.mux(stream.encode())
    # As a container that may hold pictures: ours is told by what is in it.
    with pytest.raises(Unreadable):
        clip_facts.facts_of(path)


def test_a_clip_that_was_cut_short_is_read_as_far_as_it_goes(tmp_path: Path) -> None:
    whole = clip(tmp_path / "a.mkv", "ffv1", count=48)
    cut = tmp_path / "b.mkv"
    cut.write_bytes(whole.read_bytes()[: whole.stat().st_size // 2])
    found = clip_facts.facts_of(cut)
    assert 10 < found.frames < 40


def test_one_frame_is_a_clip_without_a_rate(tmp_path: Path) -> None:
    found = clip_facts.facts_of(clip(tmp_path / "a.mp4", count=1))
    assert (found.frames, found.fps, found.uneven) == (1, None, None)


@pytest.mark.parametrize(
    ("written", "found"),
    [
        ("2026-11-07T14:20:11.000000Z", "2026-11-07T14:20:11.000000Z"),
        ("1904-01-01T00:00:00.000000Z", ""),
        ("yesterday", ""),
    ],
)
def test_the_clock_of_a_camera(written: str, found: str, tmp_path: Path) -> None:
    path = clip(tmp_path / "a.mp4", metadata={"creation_time": written})
    assert clip_facts.facts_of(path).shot_at == found


def test_how_far_the_reading_is(tmp_path: Path) -> None:
    told: list[tuple[int, int]] = []
    path = clip(tmp_path / "a.mp4", count=48)
    clip_facts.facts_of(path, lambda done, of: told.append((done, of)))
    assert all(0 <= done <= of == path.stat().st_size for done, of in told)
    assert [d for d, _ in told] == sorted(d for d, _ in told)


def _sequence(folder: Path, numbers: list[int], **tags: Any) -> tuple[list[Path], list[str]]:
    names = [f"DUSK_{n:04}.JPG" for n in numbers]
    for n, name in enumerate(names):
        photograph(folder / name, {0x829A: tags.get("times", {}).get(n, (1, 30)), 0x8827: 400})
    return [folder / name for name in names], names


def test_a_sequence_with_a_gap_and_a_camera_left_on_automatic(tmp_path: Path) -> None:
    paths, names = _sequence(tmp_path, [9998, 9999, 10000, 10002, 10003], times={3: (1, 60)})
    found = reading.sequence_of(paths, names)
    assert (found.kind, found.frames, found.missing) == ("sequence", 5, (10001,))
    assert found.remarks == ("The exposure time changes at DUSK_10002.JPG: lock it on the camera.",)
    assert found.exposure_s == pytest.approx(1 / 30)


def test_a_sequence_that_counts_in_twos_misses_nothing(tmp_path: Path) -> None:
    paths, names = _sequence(tmp_path, [2, 4, 6, 8, 12])
    assert reading.sequence_of(paths, names).missing == (10,)


def test_a_sequence_names_the_picture_that_is_wrong(tmp_path: Path) -> None:
    paths, names = _sequence(tmp_path, [1, 2, 3])
    Image.new("RGB", (100, 100)).save(paths[1], "JPEG")
    with pytest.raises(Unreadable, match=r"DUSK_0002\.JPG is 100 x 100 pixels"):
        reading.sequence_of(paths, names)
    paths[1].write_bytes(b"")
    with pytest.raises(Unreadable, match=r"DUSK_0002\.JPG: The file is empty"):
        reading.sequence_of(paths, names)


def test_looks_are_of_the_picture_they_say(tmp_path: Path) -> None:
    paths, names = _sequence(tmp_path, list(range(1, 8)))
    facts = reading.sequence_of(paths, names)
    found = list(reading.looks(paths, facts, 3, 100))
    assert [number for number, _ in found] == [1, 4, 7]
    assert {picture.shape for _, picture in found} == {(56, 100, 3)}
