"""Many frames made one: the right ones, and quieter by the root of how many."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
import pytest
from PIL import Image

from jungoptic.media import averaged as module
from jungoptic.media.averaged import averaged, middle
from jungoptic.media.kinds import Unreadable
from jungoptic.media.reading import facts_of, sequence_of


def quiet(done: int, of: int) -> None:
    pass


def grey_clip(path: Path, levels: list[int], noise: float = 0.0, codec: str = "ffv1") -> Path:
    """A clip whose frames are even, each of its own level of 255, with grain."""
    dice = np.random.default_rng(3)
    with av.open(str(path), "w") as file:
        stream: Any = file.add_stream(codec, rate=Fraction(24))
        stream.width, stream.height = 64, 48
        stream.pix_fmt = "yuv444p16le" if codec == "ffv1" else "yuv420p"
        for number, level in enumerate(levels):
            picture = np.full((48, 64, 3), level / 255.0) + dice.normal(0.0, noise, (48, 64, 1))
            deep = (np.clip(picture, 0.0, 1.0) * 65535.0 + 0.5).astype(np.uint16)
            frame = av.VideoFrame.from_ndarray(deep, format="rgb48le").reformat(
                format=stream.pix_fmt
            )
            frame.pts, frame.time_base = number, Fraction(1, 24)
            file.mux(stream.encode(frame))
        file.mux(stream.encode())
    return path


@pytest.mark.parametrize(("first", "last"), [(1, 1), (1, 4), (3, 7), (12, 12), (9, 400)])
def test_the_named_frames_are_taken(tmp_path: Path, first: int, last: int) -> None:
    levels = [20 + 10 * n for n in range(12)]
    for name, codec in (("a.mkv", "ffv1"), ("a.mp4", "libx264")):
        path = grey_clip(tmp_path / name, levels, codec=codec)
        mean, count = averaged([path], facts_of(path), first, last, quiet)
        chosen = levels[first - 1 : last]
        assert count == len(chosen)
        assert mean.dtype == np.uint16
        # Levels lie ten apart; H.264 keeps them to three.
        assert mean.mean() / 257.0 == pytest.approx(np.mean(chosen), abs=3.5)


def test_grain_falls_by_the_root_of_how_many(tmp_path: Path) -> None:
    path = grey_clip(tmp_path / "a.mkv", [120] * 64, noise=0.02)
    facts = facts_of(path)
    one = averaged([path], facts, 1, 1, quiet)[0].astype(float)[..., 1].std()
    many = averaged([path], facts, 1, 64, quiet)[0].astype(float)[..., 1].std()
    assert one / many == pytest.approx(8.0, rel=0.15)


def test_a_folder_of_stills(tmp_path: Path) -> None:
    paths = []
    for number, level in enumerate((100, 110, 150, 160)):
        paths.append(tmp_path / f"P{number}.png")
        Image.new("RGB", (32, 24), (level, level, level)).save(paths[-1])
    facts = sequence_of(paths, [path.name for path in paths])
    mean, count = averaged(paths, facts, 2, 3, quiet)
    assert count == 2
    assert (mean == 130 * 257).all()


def test_a_clip_that_breaks_off_gives_what_there_is(tmp_path: Path) -> None:
    path = grey_clip(tmp_path / "a.mkv", [120] * 40, noise=0.02)
    facts = facts_of(path)
    path.write_bytes(path.read_bytes()[: path.stat().st_size // 2])
    _, count = averaged([path], facts, 1, 40, quiet)
    assert 1 <= count < 40
    with pytest.raises(Unreadable, match="None of these"):
        averaged([path], facts, 39, 40, quiet)


def passing(folder: Path, stands: range = range(0)) -> tuple[list[Path], Any]:
    """Fifteen stills of an uneven wall, past which somebody walks, and where they stand at last;
    and the wall."""
    wall = np.random.default_rng(2).integers(40, 200, (48, 64, 3)).astype(np.uint8)
    paths = []
    for number in range(15):
        shown = wall.copy()
        left = 4 * number
        shown[10:40, left : left + 8] = 250
        if number in stands:
            shown[:8, :8] = 5
        paths.append(folder / f"W{number:02}.png")
        Image.fromarray(shown).save(paths[-1])
    return paths, wall


def of_all(paths: list[Path]) -> tuple[Any, int]:
    facts = sequence_of(paths, [path.name for path in paths])
    return middle(paths, facts, 1, len(paths), quiet)


def test_who_passes_is_taken_out(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    paths, wall = passing(tmp_path)
    found, count = of_all(paths)
    assert count == 15
    assert (found == wall.astype(np.uint16) * 257).all()
    # A little at a time, it is the same.
    monkeypatch.setattr(module, "AT_A_TIME", 64 * 3 * 2 * 15 * 5)
    assert (of_all(paths)[0] == found).all()


@pytest.mark.parametrize(("stands", "stays"), [(range(7), False), (range(8), True)])
def test_who_stands_for_more_than_half_of_it_stays(
    tmp_path: Path, stands: range, stays: bool
) -> None:
    paths, wall = passing(tmp_path, stands)
    found, _ = of_all(paths)
    corner = np.full((8, 8, 3), 5, np.uint8) if stays else wall[:8, :8]
    assert (found[:8, :8] == corner.astype(np.uint16) * 257).all()


def test_the_middle_of_a_clip_is_of_frames_all_over_it(tmp_path: Path) -> None:
    path = grey_clip(tmp_path / "a.mkv", [20 + n for n in range(120)])
    found, count = middle([path], facts_of(path), 11, 91, quiet)
    # The reference: the middle one of those from the first to the last.
    assert count == 25
    assert found.mean() / 257.0 == pytest.approx(20 + 50, abs=0.6)
    told: list[tuple[int, int]] = []
    middle([path], facts_of(path), 1, 120, lambda done, of: told.append((done, of)))
    assert all(0 < done <= of for done, of in told)
    assert told == sorted(told)


def test_nothing_to_take_the_middle_of_is_said(tmp_path: Path) -> None:
    path = grey_clip(tmp_path / "a.mkv", [120] * 40, noise=0.02)
    facts = facts_of(path)
    path.write_bytes(path.read_bytes()[: path.stat().st_size // 2])
    with pytest.raises(Unreadable, match="None of these"):
        middle([path], facts, 39, 40, quiet)
