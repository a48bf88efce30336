"""What follows light needs the engine; where it is not installed those tests say so."""

from __future__ import annotations

import pytest

from jungoptic.render.engine import MISSING, available


@pytest.fixture
def engine() -> None:
    """The rendering engine, installed by the set-up."""
    if not available():
        pytest.skip(MISSING)
