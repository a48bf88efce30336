"""Nonsense sent to every endpoint by people of every role: nothing may break, nothing may hang."""

from __future__ import annotations

import json
import random
import threading
import uuid
from collections import Counter
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import quote

from .person import Away, Person

#: What would end the session of who asks, or lock the account.
LEFT_OUT = ("/session", "/accounts", "/password", "/devices", "/account/")
SLOW_S = 5.0
JUNK: tuple[Any, ...] = (
    None, True, 0, -1, 1e308, -1e-308, 10**40, "", " ", "x" * 5000, "\u0000", "\ud83d\ude00",
    "'; --", "<b>", "2026-13-45", "NaN", [], {}, [[]], {"a": {"b": [None]}}, ["x"] * 500,
)  # fmt: skip


@dataclass
class Found:
    """How many requests of which status, and what should not have been."""

    asked: int = 0
    statuses: Counter[int] = field(default_factory=Counter)
    broken: list[str] = field(default_factory=list)
    slow: list[str] = field(default_factory=list)


@dataclass
class Dice:
    """What is chosen by chance, and the ids that are known."""

    chance: random.Random
    ids: list[str] = field(default_factory=list)


class Description:
    """The API as it describes itself."""

    def __init__(self, document: dict[str, Any]) -> None:
        self.document = document
        self.operations = [
            (method, path, told)
            for path, methods in document["paths"].items()
            for method, told in methods.items()
            if not any(one in path for one in LEFT_OUT)
        ]

    def resolved(self, schema: dict[str, Any]) -> dict[str, Any]:
        """A schema, followed to where it is written."""
        while "$ref" in schema:
            schema = self.document["components"]["schemas"][schema["$ref"].split("/")[-1]]
        return schema

    def value(self, schema: dict[str, Any], dice: Dice, deep: int = 0) -> Any:
        """Something that may be what a schema asks for."""
        schema, chance, ids = self.resolved(schema), dice.chance, dice.ids
        if chance.random() < 0.08:
            return chance.choice(JUNK)
        if "const" in schema:
            return schema["const"]
        if "enum" in schema:
            return chance.choice(schema["enum"])
        for some in ("anyOf", "oneOf", "allOf"):
            if some in schema:
                return self.value(chance.choice(schema[some]), dice, deep)
        kind = schema.get("type")
        if kind == "object":
            return self._thing(schema, dice, deep)
        if kind == "array":
            count = 0 if deep > 4 else chance.randrange(4)
            items = schema.get("items", {})
            return [self.value(items, dice, deep + 1) for _ in range(count)]
        if kind in ("number", "integer"):
            low, high = schema.get("minimum", -10), schema.get("maximum", 100)
            at = chance.choice((low, high, low - 1, high + 1, chance.uniform(low, high)))
            return int(at) if kind == "integer" else at
        if kind == "boolean":
            return chance.random() < 0.5
        if kind == "null":
            return None
        if schema.get("format") == "uuid":
            return chance.choice(ids) if ids and chance.random() < 0.8 else str(uuid.uuid4())
        if schema.get("format") == "date":
            return chance.choice(("2026-06-20", "1900-01-01", "9999-12-31"))
        return chance.choice(("A", "twin-split", "plate", "ö" * 40, "12", ""))

    def _thing(self, schema: dict[str, Any], dice: Dice, deep: int) -> Any:
        chance = dice.chance
        needed = set(schema.get("required", ()))
        found = {}
        for name, part in schema.get("properties", {}).items():
            if name in needed or (deep < 4 and chance.random() < 0.3):
                found[name] = self.value(part, dice, deep + 1)
        if chance.random() < 0.03:
            found["nobody_knows_this"] = 1
        return found


class Fool(threading.Thread):
    """Somebody who sends nonsense, as one of the `people` (by role)."""

    def __init__(
        self,
        seed: int,
        people: dict[str, Person],
        description: Description,
        production: str,
        stop: threading.Event,
    ) -> None:
        super().__init__(daemon=True)
        self.people, self.description, self.stop_now = people, description, stop
        self.production = production
        self.chance = random.Random(seed)
        self.found = Found()
        #: With ids that have come back, so that some of what is asked for is there.
        self.dice = Dice(self.chance)

    def run(self) -> None:
        """Ask until told to stop."""
        while not self.stop_now.is_set():
            role = self.chance.choice(list(self.people))
            try:
                self._ask(role)
            except Away as error:
                if not self.stop_now.is_set():
                    self.found.broken.append(f"{role}: no answer: {error}")

    def _ask(self, role: str) -> None:
        chance = self.chance
        method, path, told = chance.choice(self.description.operations)
        # Reading tells ids; writing alone would soon know of nothing that is there.
        if method != "get" and chance.random() < 0.35:
            method, path, told = chance.choice(
                [one for one in self.description.operations if one[0] == "get"]
            )
        for part in told.get("parameters", ()):
            if part["in"] == "path":
                path = path.replace("{" + part["name"] + "}", self._id(part["name"]))
        query = [
            f"{part['name']}={self._query(part)}"
            for part in told.get("parameters", ())
            if part["in"] == "query" and (part.get("required") or chance.random() < 0.4)
        ]
        address = path + ("?" + "&".join(query) if query else "")
        body, raw = None, None
        wanted = told.get("requestBody", {}).get("content", {}).get("application/json")
        if wanted is not None:
            body = self.description.value(wanted["schema"], self.dice)
            if chance.random() < 0.02:
                body, raw = None, b'{"half": '
        person = self.people[role]
        try:
            answer = person.ask(method.upper(), address, body, raw)
        except Away:
            # A line that nobody has spoken on for a while is hung up by the server.
            answer = person.ask(method.upper(), address, body, raw)
        found = self.found
        found.asked += 1
        found.statuses[answer.status] += 1
        line = f"{role} {method.upper()} {address[:160]}"
        if answer.status >= 500:
            sent = "" if body is None else json.dumps(body, ensure_ascii=True)[:300]
            found.broken.append(f"{answer.status} {line} {sent}")
        if answer.seconds > SLOW_S:
            found.slow.append(f"{answer.seconds:.1f} s {line}")
        if answer.status == 200:
            self._learn(answer.body, 0)

    def _id(self, name: str) -> str:
        if name == "production_id" and self.chance.random() < 0.9:
            return self.production
        what = self.chance.random()
        if what < 0.75 and self.dice.ids:
            return self.chance.choice(self.dice.ids)
        junk = self.chance.choice(("x", "-1", "%00", "%2e%2e"))
        return str(uuid.uuid4()) if what < 0.95 else junk

    def _query(self, part: dict[str, Any]) -> str:
        value = self.description.value(part.get("schema", {}), self.dice, 3)
        return quote(str(value)[:200].encode("utf-8", "replace"))

    def _learn(self, body: Any, deep: int) -> None:
        if deep > 4 or len(self.dice.ids) > 400:
            if len(self.dice.ids) > 400:
                self.dice.ids = self.chance.sample(self.dice.ids, 200)
            return
        if isinstance(body, dict):
            for name, value in body.items():
                if name == "id" and isinstance(value, str) and len(value) == 36:
                    self.dice.ids.append(value)
                else:
                    self._learn(value, deep + 1)
        elif isinstance(body, list):
            for one in body[:10]:
                self._learn(one, deep + 1)
