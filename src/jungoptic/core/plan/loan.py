"""When a thing can be used."""

from __future__ import annotations

import datetime
from collections.abc import Iterable
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


def shared(loans: Iterable[Loan]) -> Loan:
    """The days on which all of several are there: it covers none where there is no such day."""
    limits = list(loans)
    first = max((x.first for x in limits if x.first), default=None)
    last = min((x.last for x in limits if x.last), default=None)
    return Loan(first=first, last=last)
