"""The journal as people read it: a sentence for what was done, and what changed."""

from __future__ import annotations

import datetime
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any

from ..journal.models import Entry
from ..naming import in_words
from .called import called, plainly

#: What one person changes of one thing within this time is told in one line.
TOGETHER = datetime.timedelta(minutes=10)
#: What an empty field of a kind means.
EMPTY = {"take": "as planned"}


@dataclass(frozen=True)
class Change:
    """A field that changed, in words; `before` is "" where only what it is now can be said."""

    what: str
    before: str
    after: str


@dataclass
class Doing:
    """Something that somebody did; `more` entries of the journal are told with it."""

    id: int
    at: datetime.datetime
    who: str
    address: str
    what: str
    changes: list[Change] = field(default_factory=list)
    more: int = 0


def tell(entries: Iterable[Entry]) -> list[Doing]:
    """Entries, newest first, as doings, newest first."""
    rows = list(entries)
    names = called(rows)
    return [_doing(group, names) for group in _together(rows)]


def _together(rows: list[Entry]) -> Iterator[list[Entry]]:
    group: list[Entry] = []
    for one in rows:
        if group and not _goes_with(group[-1], one):
            yield group
            group = []
        group.append(one)
    if group:
        yield group


def _goes_with(later: Entry, one: Entry) -> bool:
    if later.who != one.who:
        return False
    if one.request == later.request != "":
        return True
    same = (later.kind, later.record_id, later.action) == (one.kind, one.record_id, one.action)
    again = one.action in ("edited", "measured", "refused")
    return same and again and later.at - one.at <= TOGETHER


def _doing(group: list[Entry], names: dict[tuple[str, str], str]) -> Doing:
    newest = group[0]
    # One request may touch much: it is told by its step, else by what it touched first.
    said = next((one for one in group if one.kind in OWN), group[-1])
    thing = names.get((said.kind, said.record_id)) or plainly(said)
    alone = len({(one.kind, one.record_id, one.action) for one in group}) == 1
    others = len({(one.kind, one.record_id) for one in group}) - 1
    beside = f", and {others} more" if others and said.kind not in OWN else ""
    return Doing(
        id=newest.pk,
        at=newest.at,
        who=newest.who or "somebody",
        address=newest.address,
        what=_sentence(said, thing) + beside,
        changes=_changes(group) if alone and newest.action == "edited" else [],
        more=len(group) - 1,
    )


#: What was done, as a verb in the past.
DONE = {
    "made": "made",
    "edited": "changed",
    "removed": "removed",
    "redrawn": "drew anew",
    "read": "had the file read of",
    "filed": "had filed by its board",
    "measured": "had measured",
    "taken": "took a picture of",
    "restored": "fetched back",
}


def _member(entry: Entry, told: dict[str, Any], name: str) -> str:
    role = told.get("role", "")
    return {
        "joined": f"joined as {role}",
        "left": "left the production",
        "removed": f"removed {name} from the production",
        "edited": f"made {name} {role}",
        "password link": f"made a link for a new password of {name}",
    }.get(entry.action, entry.action)


def _invitation(entry: Entry, told: dict[str, Any], _: str) -> str:
    whom = f" ({told['note']})" if told.get("note") else ""
    verb = "withdrew an invitation" if entry.action == "withdrawn" else "invited somebody"
    return f"{verb} as {told.get('role', 'member')}{whom}"


def _crew_link(entry: Entry, told: dict[str, Any], _: str) -> str:
    verb = {"made": "made a link to", "withdrawn": "withdrew a link to", "opened": "came in to"}
    return f"{verb.get(entry.action, entry.action)} {told.get('opens', 'cards')}"


def _step(entry: Entry, told: dict[str, Any], _: str) -> str:
    verb = {"undone": "undid", "redone": "redid"}.get(entry.action, entry.action)
    return f"{verb} “{told.get('label', 'a step')}”"


#: Kinds that are told in words of their own.
OWN: dict[str, Callable[[Entry, dict[str, Any], str], str]] = {
    "member": _member,
    "invitation": _invitation,
    "crew link": _crew_link,
    "step": _step,
}


def _sentence(entry: Entry, thing: str) -> str:
    told = entry.after or entry.before or {}
    if entry.action == "refused":
        if entry.kind == "card":
            return "asked for a card that their link does not open, and was refused"
        if "role" in told:
            return f"was refused what a {told['role']} may not do"
        return "does not belong here and was refused"
    if entry.kind in OWN:
        return OWN[entry.kind](entry, told, thing)
    if entry.action in ("ticked", "cleared"):
        return f"{entry.action} “{told.get('item', '')}” on {thing}"
    if (entry.kind, entry.action) == ("recipeuse", "made"):
        return f"took {thing}"
    return f"{DONE.get(entry.action, entry.action)} {thing}"


def _changes(group: list[Entry]) -> list[Change]:
    """What differs between before the first and after the last."""
    before: dict[str, Any] = {}
    after: dict[str, Any] = {}
    for one in group:
        before |= one.before or {}
        after = (one.after or {}) | after
    names = [name for name in after if before.get(name) != after[name]]
    empty = EMPTY.get(group[0].kind, "nothing")
    return [_change(name, before.get(name), after[name], empty) for name in names]


def _change(name: str, before: Any, after: Any, empty: str) -> Change:
    words, unit = in_words(name)
    # Which one it is, or what lies within, would take more than a line.
    if name.endswith("_id"):
        return Change(words, "", "another" if after else "none")
    if isinstance(before, list | dict) or isinstance(after, list | dict):
        return Change(words, "", "changed" if after else "cleared")
    return Change(words, _value(before, unit, empty), _value(after, unit, empty))


def _value(value: Any, unit: str, empty: str) -> str:
    if value is None or value == "":
        return empty
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, int | float):
        return f"{value:.6g}{unit}"
    text = str(value)
    return text if len(text) <= 80 else f"{text[:77]}..."
