"""Files made as a camera would, with everything about them known."""

from __future__ import annotations

import struct
from collections.abc import Iterable
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
from PIL import Image, TiffImagePlugin

from jungoptic.core.camera import Camera
from tests.boards import seen


def ramp(wide: int = 320, high: int = 180, at: float = 0.0) -> Any:
    """A grey ramp with a bright bar that wanders: (h, w, 3) in 0..1."""
    picture = np.ones((high, wide, 3)) * np.linspace(0.1, 0.8, wide)[None, :, None]
    left = int(at * (wide - 20))
    picture[high // 3 : high // 2, left : left + 20] = (0.95, 0.4, 0.1)
    return picture


def clip(
    path: Path,
    codec: str = "libx264",
    pixels: str = "yuv420p",
    count: int = 24,
    fps: Fraction | int = 24,
    options: dict[str, str] | None = None,
    size: tuple[int, int] = (320, 180),
    times: Iterable[int] | None = None,
    metadata: dict[str, str] | None = None,
) -> Path:
    """A clip; `times`: when each frame is shown, in thousandths of a second, instead of evenly."""
    base = Fraction(1, 1000) if times is not None else 1 / Fraction(fps)
    shown = list(times) if times is not None else list(range(count))
    with av.open(str(path), "w") as file:
        file.metadata.update(metadata or {})
        stream: Any = file.add_stream(codec, rate=Fraction(fps))
        stream.width, stream.height = size
        stream.pix_fmt, stream.options = pixels, options or {}
        stream.codec_context.time_base = base
        for n, pts in enumerate(shown):
            picture = ramp(*size, at=n / max(len(shown) - 1, 1))
            frame = av.VideoFrame.from_ndarray(
                np.ascontiguousarray(picture * 65535 + 0.5).astype(np.uint16), format="rgb48le"
            ).reformat(format=pixels)
            frame.pts, frame.time_base = pts, base
            file.mux(stream.encode(frame))
        file.mux(stream.encode())
    return path


def set_clip(path: Path, shifts: Iterable[tuple[float, float]]) -> Path:
    """A clip of a set with much to hold on to, which has moved by so many pixels in each frame."""
    dice = np.random.default_rng(6)
    noise = dice.uniform(0.15, 0.6, (54, 96)).astype(np.float32)
    wall = cv2.GaussianBlur(cv2.resize(noise, (960, 540)), (0, 0), 2.0)
    options = {"crf": "14", "preset": "veryfast"}
    with av.open(str(path), "w") as file:
        stream: Any = file.add_stream("libx264", rate=24)
        stream.width, stream.height, stream.pix_fmt, stream.options = 960, 540, "yuv420p", options
        for number, (right, down) in enumerate(shifts):
            warp = np.array([[1.0, 0.0, right], [0.0, 1.0, down]])
            grey = cv2.warpAffine(wall, warp, (960, 540), borderMode=cv2.BORDER_REFLECT)
            shown = np.repeat((grey * 255.0 + 0.5).astype(np.uint8)[..., None], 3, axis=2)
            frame = av.VideoFrame.from_ndarray(shown, format="rgb24")
            frame.pts = number
            file.mux(stream.encode(frame.reformat(format="yuv420p")))
        file.mux(stream.encode())
    return path


def board_clip(
    path: Path,
    camera: Camera,
    number: int,
    way: str = "standing",
    held: tuple[int, int] = (1, 24),
    count: int = 48,
    shot_at: str = "",
    size: tuple[int, int] = (1920, 1012),
    up_m: float = 0.0,
) -> Path:
    """A clip in which a board is held up in the frames from `held[0]` to `held[1]`."""
    pictures = [seen(camera, *size, number, way, up_m=up_m), np.full(size[::-1], 90, np.uint8)]
    with av.open(str(path), "w") as file:
        if shot_at:
            file.metadata["creation_time"] = shot_at
        stream: Any = file.add_stream("libx264", rate=24)
        stream.width, stream.height, stream.pix_fmt = *size, "yuv420p"
        stream.options = {"crf": "12", "preset": "ultrafast"}
        for n in range(1, count + 1):
            grey = pictures[0 if held[0] <= n <= held[1] else 1]
            frame = av.VideoFrame.from_ndarray(grey, format="gray")
            frame.pts = n - 1
            file.mux(stream.encode(frame.reformat(format="yuv420p")))
        file.mux(stream.encode())
    return path


def photograph(path: Path, exif: dict[int, Any] | None = None, **save: Any) -> Path:
    """A JPEG with what a camera writes into it (Exif 2.32): by number of its tag."""
    picture = Image.fromarray((ramp() * 255 + 0.5).astype(np.uint8))
    tags = Image.Exif()
    tags[0x0112] = (exif or {}).pop(0x0112, 1)
    for tag, value in (exif or {}).items():
        fraction = isinstance(value, tuple)
        tags.get_ifd(0x8769)[tag] = TiffImagePlugin.IFDRational(*value) if fraction else value
    picture.save(path, "JPEG", exif=tags, **save)
    return path


def still(
    path: Path, shift: tuple[float, float] = (0.0, 0.0), stops: float = 0.0, arm: bool = False
):
    """A set with much to hold on to, filmed by a camera that moved; an arm may reach in."""
    dice = np.random.default_rng(5)
    noise = dice.uniform(0.1, 0.5, (90, 160, 3)).astype(np.float32)
    light = cv2.resize(noise, (960, 540), interpolation=cv2.INTER_CUBIC)
    light = cv2.GaussianBlur(light, (0, 0), 2.0) * 2.0**stops
    warp = np.array([[1.0, 0.0, shift[0]], [0.0, 1.0, shift[1]]])
    light = cv2.warpAffine(light, warp, (960, 540), borderMode=cv2.BORDER_REFLECT)
    if arm:
        light[200:420, :220] = (0.6, 0.3, 0.05)
    # The curve of BT.709.
    code = np.where(light < 0.018, 4.5 * light, 1.099 * np.maximum(light, 0.018) ** 0.45 - 0.099)
    Image.fromarray((np.clip(code, 0, 1) * 255 + 0.5).astype(np.uint8)).save(path, quality=95)
    return path


def raw(path: Path, wide: int = 64, high: int = 48) -> Path:
    """A raw file in the open format (DNG 1.4): 12 bits, one colour a photosite, a grey ramp."""
    light = (np.linspace(200, 3800, wide)[None, :] * np.ones((high, 1))).astype("<u2")
    identity = [(1, 1), (0, 1), (0, 1), (0, 1), (1, 1), (0, 1), (0, 1), (0, 1), (1, 1)]
    tags: list[tuple[int, int, list[Any]]] = [
        (254, 4, [0]),
        (256, 4, [wide]),
        (257, 4, [high]),
        (258, 3, [16]),
        (259, 3, [1]),
        (262, 3, [32803]),
        (273, 4, [0]),
        (274, 3, [1]),
        (277, 3, [1]),
        (278, 4, [high]),
        (279, 4, [light.nbytes]),
        (33421, 3, [2, 2]),
        (33422, 1, [0, 1, 1, 2]),
        (50706, 1, [1, 4, 0, 0]),
        (50707, 1, [1, 1, 0, 0]),
        (50714, 3, [0]),
        (50717, 4, [4095]),
        (50721, 10, identity),
        (50728, 5, [(1, 1), (1, 1), (1, 1)]),
        (50778, 3, [21]),
    ]
    sizes = {1: 1, 3: 2, 4: 4, 5: 8, 10: 8}
    codes = {1: "B", 3: "H", 4: "I", 5: "II", 10: "ii"}
    behind = 8 + 2 + 12 * len(tags) + 4
    extra, entries = b"", b""
    room = sum(len(v) * sizes[k] for _, k, v in tags if len(v) * sizes[k] > 4)
    for tag, kind, values in tags:
        held = [behind + room] if tag == 273 else values
        data = b"".join(
            struct.pack("<" + codes[kind], *(v if isinstance(v, tuple) else (v,))) for v in held
        )
        if len(data) > 4:
            place = struct.pack("<I", behind + len(extra))
            extra += data
        else:
            place = data.ljust(4, b"\0")
        entries += struct.pack("<HHI", tag, kind, len(values)) + place
    head = b"II*\0" + struct.pack("<IH", 8, len(tags)) + entries + b"\0\0\0\0"
    path.write_bytes(head + extra + light.tobytes())
    return path
