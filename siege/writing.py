"""People who write while things are killed, and what is found of it afterwards.

Whatever was acknowledged must be there, once; what was not may be there or not, but never by
half.
"""

from __future__ import annotations

import random
import threading
import time
import uuid
from collections import Counter
from dataclasses import dataclass, field
from typing import Any

from .person import Away, Person

#: A recipe that fills a shot with several plates in one step.
RECIPE = "twin-split"
#: Shots that one piece of long work copies: all of them or none.
COPIED = 3


@dataclass
class Told:
    """What one writer was told is stored. `edits`: the last count in a shot's action that was
    acknowledged; `tried`: the last that was sent."""

    shots: dict[str, str] = field(default_factory=dict)
    edits: dict[str, int] = field(default_factory=dict)
    tried: dict[str, int] = field(default_factory=dict)
    filled: dict[str, bool] = field(default_factory=dict)
    jobs: list[str] = field(default_factory=list)
    writes: int = 0


class Writer(threading.Thread):
    """Somebody who makes shots, edits them, fills them by a recipe and takes that back."""

    def __init__(self, number: int, address: str, production: str, stop: threading.Event) -> None:
        super().__init__(daemon=True, name=f"writer {number}")
        self.number, self.stop_now = number, stop
        self.base = f"/api/productions/{production}"
        self.person = Person(address)
        self.told = Told()
        self.chance = random.Random(number)
        self.problems: list[str] = []

    def run(self) -> None:
        """Write until told to stop; whatever goes wrong is kept to be told."""
        try:
            self.person.sign_in()
            while not self.stop_now.is_set():
                self._round()
        except Away as error:
            if not self.stop_now.is_set():
                self.problems.append(str(error))
        except Exception as error:  # told at the end, with the rest
            self.problems.append(f"{type(error).__name__}: {error}")

    def _round(self) -> None:
        what = self.chance.random()
        if what < 0.25 or not self.told.shots:
            self._make()
        elif what < 0.85:
            self._edit(self.chance.choice(list(self.told.shots)))
        else:
            self._fill(self.chance.choice(list(self.told.shots)))

    def _acknowledged(self, status: int, what: str, body: Any) -> None:
        if status != 200:
            raise RuntimeError(f"{what} was answered {status}: {str(body)[:200]}")
        self.told.writes += 1

    def _make(self) -> None:
        pk, title = str(uuid.uuid4()), f"w{self.number} s{len(self.told.shots)}"
        number = f"{self.number}.{len(self.told.shots)}"
        values = {"id": pk, "number": number, "title": title}
        answer = self.person.insist("POST", f"{self.base}/shots", values)
        self._acknowledged(answer.status, "a new shot", answer.body)
        self.told.shots[pk] = title

    def _edit(self, pk: str) -> None:
        wanted = self.told.tried.get(pk, 0) + 1
        self.told.tried[pk] = wanted
        while True:
            now = self.person.insist("GET", f"{self.base}/shots/{pk}").body["shot"]
            if now["action"] == str(wanted):
                break
            change = {"revision": now["revision"], "action": str(wanted)}
            try:
                answer = self.person.ask("PATCH", f"{self.base}/shots/{pk}", change)
            except Away:
                continue
            if answer.status in (503, 409):
                continue
            self._acknowledged(answer.status, "an edit", answer.body)
            break
        self.told.edits[pk] = wanted

    def _fill(self, pk: str) -> None:
        """By a recipe, or back: one step either way."""
        path = f"{self.base}/shots/{pk}"
        there = len(self.person.insist("GET", path).body["plates"])
        try:
            if there == 0:
                answer = self.person.ask("POST", f"{path}/recipes/apply", {"recipe": RECIPE})
            else:
                steps = self.person.insist("GET", f"{self.base}/steps").body
                undo = steps.get("undo")
                if not undo:
                    return
                answer = self.person.ask("POST", f"{self.base}/steps/{undo['id']}/undo")
        except Away:
            return
        if answer.status in (503, 404, 409, 422):
            # Somebody else of us has undone it meanwhile.
            return
        self._acknowledged(answer.status, "a step", answer.body)


class Copier(Writer):
    """Somebody who has shots copied, as long work."""

    def __init__(
        self, number: int, address: str, production: str, stop: threading.Event, pks: list[str]
    ) -> None:
        super().__init__(number, address, production, stop)
        self.pks = pks

    def _round(self) -> None:
        pk = str(uuid.uuid4())
        wanted = {"id": pk, "kind": "duplicate", "params": {"ids": self.pks}}
        answer = self.person.insist("POST", f"{self.base}/jobs", wanted)
        if answer.status == 429:
            self.stop_now.wait(1.0)
            return
        self._acknowledged(answer.status, "long work", answer.body)
        self.told.jobs.append(pk)
        self.stop_now.wait(2.0)


@dataclass
class Loss:
    """What was found afterwards; all of it should be nothing."""

    lost: int = 0
    halves: int = 0
    doubles: int = 0
    unfinished: int = 0
    said: list[str] = field(default_factory=list)


def all_shots(person: Person, production: str) -> list[dict[str, Any]]:
    """Every shot of a production."""
    found: list[dict[str, Any]] = []
    while True:
        path = f"/api/productions/{production}/shots?limit=500&offset={len(found)}"
        page = person.insist("GET", path).body
        found += page["items"]
        if len(found) >= page["count"] or not page["items"]:
            return found


def audit(person: Person, production: str, writers: list[Writer], plates: int) -> Loss:
    """Read everything back and hold it against what was acknowledged; `plates`: how many the recipe
    makes."""
    loss = Loss()
    shots = {one["id"]: one for one in all_shots(person, production)}
    titles = Counter(one["title"] for one in shots.values())
    for writer in writers:
        told = writer.told
        for pk, title in told.shots.items():
            if pk not in shots:
                loss.lost += 1
                loss.said.append(f"the shot {title} is gone")
                continue
            if titles[title] != 1:
                loss.doubles += 1
                loss.said.append(f"the shot {title} is there {titles[title]} times")
            whole = person.insist("GET", f"/api/productions/{production}/shots/{pk}").body
            action = whole["shot"]["action"]
            least = told.edits.get(pk, 0)
            stands = int(action) if action else 0
            if not least <= stands <= told.tried.get(pk, 0):
                loss.lost += 1
                loss.said.append(f"{title}: edit {least} was acknowledged, {stands} is stored")
            if len(whole["plates"]) not in (0, plates):
                loss.halves += 1
                loss.said.append(f"{title} has {len(whole['plates'])} of {plates} plates")
    return loss


def audit_copies(person: Person, production: str, copier: Writer, wait_s: float) -> Loss:
    """Whether every piece of work that was asked for has ended, and copied all or nothing."""
    loss = Loss()
    until = time.monotonic() + wait_s
    open_ones = list(copier.told.jobs)
    while open_ones:
        left = []
        for pk in open_ones:
            answer = person.insist("GET", f"/api/productions/{production}/jobs/{pk}")
            if answer.status == 404:
                loss.lost += 1
                loss.said.append("work that was acknowledged is unknown")
            elif answer.body["state"] in ("waiting", "running"):
                left.append(pk)
        open_ones = left
        if time.monotonic() > until:
            break
        time.sleep(0.2)
    loss.unfinished = len(open_ones)
    if open_ones:
        loss.said.append(f"{len(open_ones)} pieces of work have not ended")
    made = len(all_shots(person, production)) - COPIED
    if made % COPIED:
        loss.halves += 1
        loss.said.append(f"{made} copies, which is no multiple of {COPIED}")
    return loss
