"""Worked out once, for every process, under a key of all they came from.

The key holds the plan, the kit, whatever else was asked, and the build: a rule that is mended
leaves no old answer standing. What is kept is only ever found by who has the very same plan.
"""

from __future__ import annotations

import datetime
import hashlib
import json
from collections.abc import Callable, Hashable, Iterable, Mapping
from functools import cache
from pathlib import Path
from typing import Any, TypeVar

from django.utils import timezone
from pydantic_core import to_json

from .models import KeptAnswer

#: What tells one plan from another for whoever asks.
K = TypeVar("K", bound=Hashable)
#: So long an answer is kept, and so many at most.
KEPT_FOR = datetime.timedelta(days=7)
MOST = 20_000
#: What an answer is worked out by.
SOURCES = ("core", "render", "web")


@cache
def build() -> str:
    """What tells one state of the program from another: all of its text."""
    root = Path(__file__).resolve().parents[2]
    found = hashlib.blake2b(digest_size=16)
    for folder in SOURCES:
        for file in sorted((root / folder).rglob("*.py")):
            found.update(file.relative_to(root).as_posix().encode())
            found.update(file.read_bytes())
    return found.hexdigest()


def keys(plans: list[dict[str, Any]], what: str) -> list[str]:
    """Under which keys answers to the question `what` are kept for plans in plain JSON values.
    Plans may share their kit: it is looked at once."""
    seen: dict[int, bytes] = {}

    def told(value: Any) -> bytes:
        if id(value) not in seen:
            seen[id(value)] = hashlib.blake2b(to_json(value), digest_size=16).digest()
        return seen[id(value)]

    found = []
    for plan in plans:
        key = hashlib.blake2b(f"{what} {build()}".encode(), digest_size=24)
        for name, value in plan.items():
            key.update(name.encode())
            key.update(told(value))
        found.append(key.hexdigest())
    return found


def get(wanted: Iterable[str]) -> dict[str, Any]:
    """Those of the answers that are kept."""
    rows = KeptAnswer.objects.filter(key__in=list(wanted))
    return {key: json.loads(text) for key, text in rows.values_list("key", "answer")}


def put(answers: dict[str, Any]) -> None:
    """Keep answers; who was quicker has kept the same."""
    if answers:
        rows = [KeptAnswer(key=k, answer=to_json(v).decode()) for k, v in answers.items()]
        KeptAnswer.objects.bulk_create(rows, ignore_conflicts=True)


def of_each(
    plans: Mapping[K, dict[str, Any]],
    what: str,
    work: Callable[[list[K]], Mapping[K, Any]],
) -> dict[K, Any]:
    """Answers to the question `what` for each of some plans: those that are kept, and what `work`
    says of the others, which is kept from then on. What it is silent about is left out."""
    by_name = dict(zip(plans, keys(list(plans.values()), what), strict=True))
    known = get(by_name.values())
    missing = [name for name, key in by_name.items() if key not in known]
    if missing:
        new = {by_name[name]: answer for name, answer in work(missing).items()}
        put(new)
        known |= new
    return {name: known[key] for name, key in by_name.items() if key in known}


def forget() -> int:
    """Delete what is old, and the oldest beyond what may be kept; how many."""
    gone, _ = KeptAnswer.objects.filter(at__lt=timezone.now() - KEPT_FOR).delete()
    beyond = KeptAnswer.objects.order_by("-at").values_list("at", flat=True)[MOST : MOST + 1]
    for at in beyond:
        gone += KeptAnswer.objects.filter(at__lte=at).delete()[0]
    return gone
