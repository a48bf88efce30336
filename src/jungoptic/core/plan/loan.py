"""When a thing can be used."""

from __future__ import annotations

import datetime
from dataclasses import dataclass


@dataclass(frozen=True)
class Loan:
    """When a thing can be used: both dates included, None for no limit."""

    borrowed: bool = False
    first: datetime.date | None = None
    last: datetime.date | None = None

    def covers(self, day: datetime.date) -> bool:
        """Whether the thing is there on `day`."""
        return not (
            (self.first is not None and day < self.first)
            or (self.last is not None and day > self.last)
        )


OURS = Loan()
