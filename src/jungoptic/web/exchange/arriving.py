"""What arrives from a table or an edit list, held against the shots that are there.

Nothing is stored here: a `Plan` of rows is worked out, shown, and only then carried out, whole or
not at all.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any, Literal

from pydantic import ValidationError

from ..errors import sentence_of
from ..plans.fields import ShotFields
from ..plans.models import Shot
from ..plans.views import whole_seconds
from ..productions.models import Production
from ..records import Refused, values_of
from ..schemas import after
from ..steps import Recorder, recording

#: The most shots that one import may bring.
MOST_ROWS = 2000
#: Fields of a shot that may arrive, with the words people know them by.
TAKEN: dict[str, str] = {
    "number": "Number",
    "title": "What we see (title)",
    "action": "Line of action",
    "place": "Place",
    "time_of_day": "Time of day",
    "screen_time_s": "Screen time",
    "focal_mm": "Focal length",
    "camera_height_m": "Camera height",
    "edit_name": "Name in the edit",
}
Fate = Literal["new", "changed", "same", "error"]


@dataclass
class Row:
    """One arriving shot: where it stood, what it says, what would become of it."""

    line: int
    name: str
    values: dict[str, Any]
    #: What counts only where the shot is new: a person may have changed it since.
    fresh: dict[str, Any] = field(default_factory=dict)
    fate: Fate = "new"
    problems: list[str] = field(default_factory=list)
    #: field -> (now, then), for a shot that is there already.
    changes: dict[str, tuple[Any, Any]] = field(default_factory=dict)
    shot_id: str | None = None


@dataclass
class Plan:
    """All rows, and the shots that the list does not mention."""

    rows: list[Row]
    unmentioned: list[str]
    notes: list[str] = field(default_factory=list)

    def count(self, fate: Fate) -> int:
        """Rows of a fate."""
        return sum(r.fate == fate for r in self.rows)


def settle(
    production: Production, arriving: Iterable[Row], key: Literal["number", "edit_name"]
) -> Plan:
    """Hold arriving rows against the production's shots, matched by `key`.

    A row with a problem is an error and says what; the rest are new, changed or the same.
    """
    shots = list(Shot.objects.filter(production=production))
    by_name: dict[str, Shot] = {}
    for shot in shots:
        name = shot.number if key == "number" else shot.edit_name or shot.number
        by_name.setdefault(name.strip().lower(), shot)
    rows = list(arriving)
    if len(rows) > MOST_ROWS:
        raise Refused(
            "file", f"{len(rows):,} rows are more than {MOST_ROWS:,}; split the list by reel."
        )
    seen: dict[str, int] = {}
    met: set[Any] = set()
    for row in rows:
        wanted = str(row.values.get(key, "")).strip().lower()
        if wanted and wanted in seen:
            row.problems.append(
                f"“{row.values[key]}” stands in line {seen[wanted]} already; names must differ."
            )
        elif wanted:
            seen[wanted] = row.line
        there = by_name.get(wanted)
        if there is None:
            row.values = {**row.fresh, **row.values}
        elif there.views and "screen_time_s" in row.values:
            # An edit tells of the whole shot; its further views keep their time.
            others = whole_seconds(there) - there.screen_time_s
            left = max(float(row.values["screen_time_s"]) - others, 0.04)
            row.values = {**row.values, "screen_time_s": round(left, 6)}
        row.problems += _problems(production, row.values, there)
        if there is not None:
            row.shot_id = str(there.pk)
            met.add(there.pk)
            now = values_of(there, list(row.values))
            row.changes = {n: (now[n], v) for n, v in row.values.items() if not _alike(now[n], v)}
        row.fate = (
            "error"
            if row.problems
            else "new"
            if there is None
            else "changed"
            if row.changes
            else "same"
        )
    return Plan(rows, [f"{s.number} {s.title}" for s in shots if s.pk not in met])


def _alike(a: Any, b: Any) -> bool:
    if isinstance(a, float) and isinstance(b, float | int):
        return abs(a - b) < 1e-6
    return bool(a == b)


def _problems(production: Production, values: dict[str, Any], shot: Shot | None) -> list[str]:
    """What the shot's own fields say against these values."""
    whole = production.begins_with(values)
    if shot is not None:
        whole = {**{n: getattr(shot, n) for n in ShotFields.model_fields}, **values}
    try:
        ShotFields.model_validate(whole)
    except ValidationError as error:
        return [
            f"{TAKEN.get(str(e['loc'][0]), str(e['loc'][0]))} {sentence_of(dict(e))}"
            for e in error.errors()
        ]
    return []


def carry_out(user: Any, production: Production, plan: Plan, label: str) -> Recorder:
    """Store the plan in one step. Refuses while any row has a problem: nothing is half-imported."""
    wrong = plan.count("error")
    if wrong:
        raise Refused(
            "file",
            f"{wrong} {'line has' if wrong == 1 else 'lines have'} a problem; mend the list or "
            "leave those lines out.",
        )
    with recording(user, production, label) as step:
        positions = Shot.objects.filter(production=production).values_list("position", flat=True)
        last = max(positions, default=0.0)
        by_id = Shot.objects.filter(production=production).in_bulk(
            [r.shot_id for r in plan.rows if r.shot_id]
        )
        by_name = {str(pk): shot for pk, shot in by_id.items()}
        new = []
        for row in plan.rows:
            if row.shot_id is None:
                last = after(last)
                values = ShotFields.model_validate(
                    {**production.begins_with(row.values), "position": last}
                ).model_dump()
                new.append(Shot(production=production, **values))
            elif row.changes:
                step.change(
                    by_name[row.shot_id], **{n: then for n, (_, then) in row.changes.items()}
                )
        step.make_many(new)
    return step
