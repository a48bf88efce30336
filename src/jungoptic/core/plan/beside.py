"""What a lock-off has elsewhere: plates of other shots, or of other views of this one, that are
filmed from the same set-up."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from .plate import Plate


@dataclass(frozen=True)
class Beside:
    """A plate elsewhere that is in a lock-off of this shot, as values. `shot`: what its shot is
    called, "shot 5"; `here`: it is of this shot, seen from another of its cameras; `numbers`: what
    its stage comes to, by the names of `lockoff.group.DERIVED`, infinity included; none where its
    stage cannot be worked out."""

    plate: Plate
    shot: str
    here: bool
    numbers: Mapping[str, float]

    @property
    def called(self) -> str:
        """Its name among the plates of this shot."""
        return f"{self.plate.name} of {self.shot}"
