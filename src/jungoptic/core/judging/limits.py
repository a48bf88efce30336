"""Limits that several rules share."""

from __future__ import annotations

#: Degrees of world light direction between shots of a place that nobody sees, and that anybody
#: sees (judgement).
SAME_TO_DEG = 20.0


NEAR_TO_DEG = 45.0
