"""A way out as a rule names it: decisions that might mend what it found, before they are tried."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from ..plan.findings import Verdict
from ..stage.case import Case


@dataclass(frozen=True)
class Way:
    """One change that a rule proposes, not tried yet.

    `changes` are decisions of the plate, `shot` of the shot, `things` of stand-ins by id, as in a
    remedy. `effect` says what it gives, of the case as it would be; without it the rule's own
    sentence does.
    """

    sentence: str
    changes: Mapping[str, Any] = field(default_factory=dict)
    effect: str | Callable[[Case], str] | None = None
    shot: Mapping[str, Any] = field(default_factory=dict)
    things: Mapping[str, Mapping[str, float]] = field(default_factory=dict)
    #: Whether only this plate changes, and not the others of its lock-off.
    alone: bool = False
    #: For advice that the plan cannot carry out by itself: what the rule would say afterwards.
    promises: Verdict | None = None
    #: Of ways that differ only in how much, the mildest that does most is offered.
    family: str = ""
    #: Offered only where nothing else helps.
    last: bool = False
    #: Whether it is worth it although the verdict stays the same.
    gains: Callable[[Case], bool] | None = None
    #: Among ways that do as much, the smallest first.
    order: Callable[[Case], float] | None = None
