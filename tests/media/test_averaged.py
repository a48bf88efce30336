"""Many frames made one: the right ones, and quieter by the root of how many."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np
import pytest
from PIL import Image

from jungoptic.media.averaged import averaged
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
