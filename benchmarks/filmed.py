"""What was filmed, measured: every frame of a clip against decoding it, a pair, a frame with its
key, and the memory that a large clip takes."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np

from jungoptic.core.board.finding import find, grey_of
from jungoptic.core.board.lens import measured
from jungoptic.core.board.standing import focal_of, stood
from jungoptic.core.camera import Camera
from jungoptic.core.pictures.align import between, changed, exposure, laid_back
from jungoptic.core.pictures.bend import Bend
from jungoptic.core.pictures.composite import Layer, laid
from jungoptic.core.pictures.fitting import fitted
from jungoptic.core.pictures.keying import cloth, matte
from jungoptic.core.pictures.masking import before_cloth
from jungoptic.core.pictures.screen import evenness
from jungoptic.core.pictures.straight import straight
from jungoptic.core.pictures.telling import told
from jungoptic.core.pictures.tone import to_light, to_record
from jungoptic.core.pictures.trial import despilled, tried
from jungoptic.devices import eye
from jungoptic.devices.held_up import Board, with_board
from jungoptic.devices.slanted import held_at_a_slant
from jungoptic.media import reading
from jungoptic.media import run as frame_by_frame
from jungoptic.media.board import searched

from .timing import medians

ROUNDS = 3
#: A wide lens that bends lines as a barrel does.
BEND = Bend(-0.11, 0.02, 0.05, -0.03, 20.6, 24.9)
FRAMES = 144
#: So many pictures are taken in, one after another.
TAKES = 10
#: The pictures of a long film.
AT_THE_TABLE = 2_000
#: A camera on a low budget writes so much, megabits a second at 24 frames.
RATE = 50_000_000


def measure() -> str:
    """The tables as Markdown."""
    with tempfile.TemporaryDirectory() as folder:
        clip = _clip(Path(folder) / "hd.mp4", (1920, 1080), FRAMES)
        facts = reading.facts_of(clip)

        def nothing(done: int, of: int) -> None:
            pass

        rows = _cpu(
            {
                "decoding alone": lambda: _decoded(clip),
                "every measure of every frame": lambda: told(
                    frame_by_frame.measured([clip], facts, nothing)
                ),
                "facts of the file": lambda: reading.facts_of(clip),
                "looking for a board that is not there": lambda: searched([clip], facts),
            }
        )
        pictures = [Path(folder) / f"{n}.jpg" for n in range(2)]
        for n, path in enumerate(pictures):
            levels = np.clip(_still((0.2 * n, 0.0))[..., ::-1] * 255.0, 0.0, 255.0)
            cv2.imwrite(str(path), levels.astype(np.uint8))
        taken = _taken(str(pictures[1]), str(pictures[0]))
        begun, ended = _at_the_table(pictures)
        large = _clip(Path(folder) / "4k.mp4", (3840, 2160), 48)
        peak = _peak_mb(large)
    base = rows["decoding alone"]
    table = "\n".join(
        f"| {name} | {t:.2f} | {t / FRAMES * 1000:.1f} | {t / base:.2f} |"
        for name, t in rows.items()
    )
    one, two = _still(), _still((3.0, -1.5))
    green = _cloth()
    held_up = grey_of(_board())
    stills_of_lens = [find(grey_of(one)) for one in held_at_a_slant(BEND, 1280, 720)]
    founds = [one for one in stills_of_lens if one is not None]
    cases = {
        "a lens, by nine stills in which the board was found": lambda: measured(founds, 24.9, 20.0),
        "a frame made straight, 1920 wide": lambda: straight(one, BEND),
        "a pair": lambda: _pair(one, two),
        "a frame, its cloth and key": lambda: _key(green),
        "a board, and where the camera stood": lambda: _stood(held_up),
        "a keyed layer put over another, 960 wide": lambda: _over(one, green),
    }
    still = _cpu(cases)
    stills = "\n".join(f"| {name} | {t:.2f} |" for name, t in still.items())
    return (
        "## What was filmed\n\n"
        f"A clip of {FRAMES} frames, 1920 x 1080, H.264 at {RATE // 1_000_000} Mb/s with grain, "
        f"median of {ROUNDS} rounds, CPU seconds of all threads.\n\n"
        "| case | CPU s | CPU ms a frame | ratio to decoding (aim 2.2) |\n"
        "| --- | ---: | ---: | ---: |\n"
        f"{table}\n\n"
        "Stills of 1920 x 1080 (aim for a pair and for a board: 3).\n\n"
        f"| case | CPU s |\n| --- | ---: |\n{stills}\n\n"
        "A picture of 1920 x 1080 (JPEG) just taken at the table, on one thread, as the process "
        f"that looks at them has it; median of {ROUNDS} rounds of {TAKES}.\n\n"
        f"| case | CPU ms | ratio (aim 1.5) |\n| --- | ---: | ---: |\n{_beside(taken)}\n\n"
        f"The process that looks, after 100 of them: {begun:.0f} MB; after {AT_THE_TABLE:,}: "
        f"{ended:.0f} MB (aim: as much).\n\n"
        f"A process that measures 48 frames of 3840 x 2160: {peak:.0f} MB at most (aim: 600)."
    )


def _beside(rows: dict[str, float]) -> str:
    """Rows of milliseconds, each against the first."""
    base = next(iter(rows.values()))
    return "\n".join(f"| {n} | {t * 1000.0:.1f} | {t / base:.2f} |" for n, t in rows.items())


def _taken(now: str, before: str) -> dict[str, float]:
    """CPU seconds for one picture, of both cases."""

    def often(one: Callable[[], Any]) -> Callable[[], None]:
        def every() -> None:
            for _ in range(TAKES):
                one()

        return every

    threads = cv2.getNumThreads()
    cv2.setNumThreads(1)
    try:
        found = medians(
            {
                "its file decoded, and one Fourier transform of it": often(
                    lambda: _bare(Path(now))
                ),
                "read, measured against two others, shown": often(
                    lambda: eye.take_in(now, before, before)
                ),
            },
            ROUNDS,
            clock=time.process_time,
        )
    finally:
        cv2.setNumThreads(threads)
    return {name: t / TAKES for name, t in found.items()}


def _bare(path: Path) -> None:
    """A picture decoded, and one transform of its brightness, 480 pixels wide."""
    grey = cv2.cvtColor(np.asarray(cv2.imread(str(path))), cv2.COLOR_BGR2GRAY)
    np.fft.rfft2(cv2.resize(grey, (480, 270), interpolation=cv2.INTER_AREA))


def _board() -> Any:
    """A board on the floor, a metre and a half away."""
    camera = Camera(36.0, 20.25, 35.0, (0.2, -1.0, 1.2), -8.0, -48.0, 0.5)
    return with_board(_still()[..., 1], Board(camera, 4711))


def _stood(grey: Any) -> None:
    found = find(grey)
    assert found is not None
    assert found.number == 4711
    for way in ("lying", "standing"):
        stood(found, way, 36.0, 35.0)
    focal_of(found, 36.0)


def _cpu(cases: dict[str, Callable[[], Any]]) -> dict[str, float]:
    """CPU seconds of each case, those of all threads."""
    return medians(cases, ROUNDS, warm=0, clock=time.process_time)


def _wall(size: tuple[int, int]) -> Any:
    dice = np.random.default_rng(5)
    small = dice.uniform(0.1, 0.6, (54, 96, 3)).astype(np.float32)
    return cv2.GaussianBlur(cv2.resize(small, size, interpolation=cv2.INTER_CUBIC), (0, 0), 3.0)


def _clip(path: Path, size: tuple[int, int], frames: int) -> Path:
    """Somebody walks through a set; every frame has its own grain."""
    wall, dice = _wall(size), np.random.default_rng(7)
    with av.open(str(path), "w") as file:
        stream: Any = file.add_stream("libx264", rate=24)
        stream.width, stream.height, stream.pix_fmt, stream.bit_rate = *size, "yuv420p", RATE
        stream.options = {"preset": "veryfast", "g": "12"}
        for number in range(frames):
            picture = wall.copy()
            left = int(size[0] * number / frames)
            picture[size[1] // 5 :, left : left + size[0] // 8] = (0.6, 0.35, 0.15)
            picture += dice.normal(0.0, 0.012, picture.shape).astype(np.float32)
            whole = (np.clip(picture, 0.0, 1.0) * 255.0 + 0.5).astype(np.uint8)
            frame = av.VideoFrame.from_ndarray(whole, format="rgb24")
            frame.pts = number
            file.mux(stream.encode(frame.reformat(format="yuv420p")))
        file.mux(stream.encode())
    return path


def _decoded(path: Path) -> None:
    with av.open(str(path)) as file:
        stream = file.streams.video[0]
        stream.thread_type = "AUTO"
        for _ in file.decode(stream):
            pass


#: What the kernel says the process itself took: the usual count is handed down by its parent.
PEAK = """
import re, sys
from pathlib import Path
from jungoptic.media import reading, run
path = Path(sys.argv[1])
run.measured([path], reading.facts_of(path), lambda done, of: None)
status = Path("/proc/self/status").read_text()
print(int(re.search(r"VmHWM:\\s+(\\d+)", status)[1]) / 1024)
"""


#: The memory of a process that takes in one picture after another.
LOOKS = """
import re, sys
from pathlib import Path
from jungoptic.devices import eye
for number in range(1, int(sys.argv[3]) + 1):
    now, before = sys.argv[1 + number % 2], sys.argv[2 - number % 2]
    eye.take_in(now, before, sys.argv[1])
    if number in (100, int(sys.argv[3])):
        status = Path("/proc/self/status").read_text()
        print(int(re.search(r"VmRSS:\\s+(\\d+)", status)[1]) / 1024)
"""


def _at_the_table(pictures: list[Path]) -> tuple[float, float]:
    """Megabytes after the first hundred pictures of a film, and at its end."""
    command = [sys.executable, "-c", LOOKS, *map(str, pictures), str(AT_THE_TABLE)]
    told = subprocess.run(command, check=True, capture_output=True, text=True).stdout.split()
    return float(told[0]), float(told[1])


def _peak_mb(path: Path) -> float:
    command = [sys.executable, "-c", PEAK, str(path)]
    return float(subprocess.run(command, check=True, capture_output=True, text=True).stdout)


def _still(shift: tuple[float, float] = (0.0, 0.0)) -> Any:
    warp = np.array([[1.0, 0.0, shift[0]], [0.0, 1.0, shift[1]]])
    moved = cv2.warpAffine(_wall((1920, 1080)), warp, (1920, 1080), flags=cv2.INTER_CUBIC)
    grain = np.random.default_rng(int(shift[0] * 10)).normal(0.0, 0.01, moved.shape)
    return np.clip(moved + grain, 0.0, 1.0).astype(np.float32)


def _cloth() -> Any:
    picture = np.empty((1080, 1920, 3), np.float32)
    picture[:] = (0.12, 0.55, 0.2)
    picture[300:, 800:1100] = (0.6, 0.45, 0.4)
    grain = np.random.default_rng(2).normal(0.0, 0.01, picture.shape)
    return np.clip(picture + grain, 0.0, 1.0).astype(np.float32)


def _pair(one: Any, two: Any) -> None:
    lies = between(one, two)
    exposure(one, *laid_back(two, lies))
    changed(one, two, lies)


def _over(behind: Any, before: Any) -> None:
    """One frame of a rough composite, as a clip has some hundred of."""
    place = np.array([[2.0, 0.0, 0.5], [0.0, 2.0, 0.5]])
    layers = []
    for picture, keyed in ((behind, False), (before, True)):
        shown, there = fitted(picture, place, 960, 540)
        if keyed:
            kept = matte(shown)
            there, shown = kept * before_cloth(shown, "green", kept), despilled(shown, "green")
        far = np.full(there.shape, 1.0 if keyed else np.inf, np.float32)
        layers.append(Layer("", to_light(shown), there, far))
    to_record(laid(layers).picture)


def _key(picture: Any) -> None:
    evenness(picture, cloth(picture))
    tried(picture)
