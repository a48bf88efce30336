"""The one way the core refuses: what was asked for cannot be, said so that a person can mend it."""

from __future__ import annotations


class Impossible(ValueError):
    """Numbers that make no sense, or a thing that cannot be built or worked out.

    `str()` is a sentence that a person can act on; `field` names the decision it concerns, "" where
    it is the plan as a whole. Any other exception that leaves the core is a mistake of ours.
    """

    def __init__(self, sentence: str, field: str = "") -> None:
        super().__init__(sentence)
        self.field = field
