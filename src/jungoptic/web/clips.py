"""Clips that are made here, as files among our data. Loaded by workers alone."""

from __future__ import annotations

import tempfile
from collections.abc import Iterable
from pathlib import Path

import numpy as np
from django.core.files import File
from django.core.files.storage import default_storage
from numpy.typing import NDArray

from jungoptic.media.clip import written


def keep_clip(name: str, frames: Iterable[NDArray[np.uint8]], fps: float) -> str:
    """Pictures (h, w, 3) of eight bits and even sides, as a clip of VP9 with so many of them a
    second; where it lies."""
    with tempfile.TemporaryDirectory(prefix="clip-") as folder:
        path = Path(folder) / "clip.webm"
        written(path, (np.asarray(one, np.float32) / np.float32(255.0) for one in frames), fps)
        with path.open("rb") as file:
            stored: str = default_storage.save(f"{name}.webm", File(file))
    return stored
