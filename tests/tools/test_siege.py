"""What besieges the product: that it would notice."""

from __future__ import annotations

import json
import random
import threading
from typing import Any

import pytest

from siege import record
from siege.nonsense import Description, Dice
from siege.person import Answer
from siege.writing import Copier, Writer, audit, audit_copies


class Told:
    """A product that answers from a table."""

    def __init__(self, shots: list[dict[str, Any]], plates: dict[str, int], job: str = "done"):
        self.shots, self.plates, self.job = shots, plates, job

    def insist(self, method: str, path: str, body: Any = None) -> Answer:
        if "/jobs/" in path:
            return Answer(200, {"state": self.job}, 0.0)
        if "?limit" in path:
            start = int(path.split("offset=")[1])
            return Answer(200, {"items": self.shots[start:], "count": len(self.shots)}, 0.0)
        pk = path.rsplit("/", 1)[1]
        shot = next(one for one in self.shots if one["id"] == pk)
        return Answer(200, {"shot": shot, "plates": [0] * self.plates.get(pk, 0)}, 0.0)


def writer() -> Writer:
    one = Writer(1, "http://127.0.0.1:1", "p", threading.Event())
    one.told.shots = {"a": "w1 s0", "b": "w1 s1"}
    one.told.edits, one.told.tried = {"a": 3}, {"a": 4}
    return one


def stored(pk: str, title: str, action: str = "") -> dict[str, Any]:
    return {"id": pk, "title": title, "action": action}


class TestWhatIsFound:
    def test_all_that_was_acknowledged_is_there(self):
        for action in ("3", "4"):
            shots = [stored("a", "w1 s0", action), stored("b", "w1 s1")]
            loss = audit(Told(shots, {"a": 5}), "p", [writer()], 5)  # type: ignore[arg-type]
            assert (loss.lost, loss.halves, loss.doubles, loss.said) == (0, 0, 0, [])

    @pytest.mark.parametrize(
        ("shots", "plates", "found"),
        [
            ([stored("a", "w1 s0", "3")], {}, (1, 0, 0)),
            ([stored("a", "w1 s0", "2"), stored("b", "w1 s1")], {}, (1, 0, 0)),
            ([stored("a", "w1 s0", "9"), stored("b", "w1 s1")], {}, (1, 0, 0)),
            ([stored("a", "w1 s0", "3"), stored("b", "w1 s1")], {"b": 4}, (0, 1, 0)),
            (
                [stored("a", "w1 s0", "3"), stored("b", "w1 s1"), stored("c", "w1 s1")],
                {},
                (0, 0, 1),
            ),
        ],
    )
    def test_what_is_lost_halved_or_doubled_is_noticed(self, shots, plates, found):
        loss = audit(Told(shots, plates), "p", [writer()], 5)  # type: ignore[arg-type]
        assert (loss.lost, loss.halves, loss.doubles) == found
        assert loss.said

    def test_work_is_done_whole_and_ends(self):
        copier = Copier(1, "http://127.0.0.1:1", "p", threading.Event(), [])
        copier.told.jobs = ["j"]
        six, seven = ([stored(str(n), str(n)) for n in range(count)] for count in (6, 7))
        loss = audit_copies(Told(six, {}), "p", copier, 1.0)  # type: ignore[arg-type]
        assert (loss.unfinished, loss.halves) == (0, 0)
        loss = audit_copies(Told(seven, {}, "running"), "p", copier, 0.01)  # type: ignore[arg-type]
        assert (loss.unfinished, loss.halves) == (1, 1)


class TestTheSums:
    def test_they_add_up_and_come_back_from_the_page(self, tmp_path):
        path = tmp_path / "reliability.md"
        run = {"runs": 1, "kills": {"database": 2}, "back_s": [1.0, 9.0], "writes": 10}
        run |= {"grown_most": 3.5, "lost": 0}
        for _ in range(2):
            path.write_text(record.page(record.added(record.before(path), run), 2))
        sums = record.before(path)
        assert (sums["runs"], sums["writes"], sums["kills"]) == (2, 20, {"database": 4})
        assert (sums["back_s"], sums["grown_most"]) == ([1.0, 9.0] * 2, 3.5)
        assert "| kill -9 | 4 | 4 database |" in path.read_text()

    def test_a_share_of_them(self):
        assert record.part([3.0, 1.0, 2.0], 0.5) == 2.0
        assert record.part(list(range(1000)), 0.99) == 990
        assert record.part([], 0.5) == 0.0


def test_nonsense_is_made_of_what_the_api_says_of_itself():
    """For every endpoint something that can be sent, some of it right and some wrong."""
    from jungoptic.web.api import api

    description = Description(json.loads(json.dumps(api.get_openapi_schema(), default=str)))
    assert len(description.operations) > 150
    assert not any("/session" in path for _, path, _ in description.operations)
    dice = Dice(random.Random(1), ["00000000-0000-4000-8000-000000000000"])
    sent = 0
    for _, _, told in description.operations:
        wanted = told.get("requestBody", {}).get("content", {}).get("application/json")
        if wanted is None:
            continue
        found = [description.value(wanted["schema"], dice) for _ in range(20)]
        # As it goes over the line.
        assert len({json.dumps(one) for one in found}) > 1
        sent += 1
    assert sent > 60
