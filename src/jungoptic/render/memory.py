"""What was seen last of a scene, kept until it changes: between two moments of a shot most of a set
stands still."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar, cast

T = TypeVar("T")


class Memory:
    """One thing kept for each place, whatever was made of it last. Memory is flat: what is new
    takes the place of what was."""

    def __init__(self) -> None:
        self._kept: dict[str, tuple[object, object]] = {}

    def of(self, place: str, key: object, make: Callable[[], T]) -> T:
        """What is kept at a place, if it was made for the same `key`; made anew otherwise."""
        kept = self._kept.get(place)
        if kept is not None and kept[0] == key:
            return cast(T, kept[1])
        made = make()
        self._kept[place] = key, made
        return made
