"""`make siege`: besieges the product for twenty minutes (MINUTES=20), and adds what it found to
`docs/reliability.md`. Loopback only; nothing of the demo is touched."""

from __future__ import annotations

import os
import random
import sys
import threading
import time
import uuid
from typing import Any

from .dragging import Dragger, plan_of
from .nonsense import Description, Fool, Found
from .person import Away, Person
from .product import ROOT, VICTIMS, Product
from .record import added, before, page
from .writing import COPIED, RECIPE, Copier, Writer, audit, audit_copies

#: Shares of the time: kills, nonsense, people who drag. What is left goes to start and end.
KILLS, NONSENSE, DRAGS, AWAY = 0.42, 0.28, 0.15, 0.05
WRITERS, FOOLS, DRAGGERS = 4, 4, 16
#: A web server that was killed is back before this.
PATIENCE_S = 120.0


def say(text: str) -> None:
    """A line, at once."""
    print(text, flush=True)


def _production(person: Person, name: str) -> str:
    answer = person.insist("POST", "/api/productions", {"id": str(uuid.uuid4()), "name": name})
    if answer.status != 200:
        raise RuntimeError(f"no production: {answer.status} {answer.body}")
    return str(answer.body["id"])


def _shot(person: Person, production: str, number: str) -> str:
    values = {"id": str(uuid.uuid4()), "number": number, "title": f"shot {number}"}
    answer = person.insist("POST", f"/api/productions/{production}/shots", values)
    return str(answer.body["id"])


def kills(
    product: Product, person: Person, seconds: float, chance: random.Random
) -> dict[str, Any]:
    """Kill while people write; what was lost."""
    written, copied = _production(person, "Besieged"), _production(person, "Copied")
    probe = _shot(person, written, "0")
    path = f"/api/productions/{written}/shots/{probe}"
    person.insist("POST", f"{path}/recipes/apply", {"recipe": RECIPE})
    plates = len(person.insist("GET", path).body["plates"])
    originals = [_shot(person, copied, str(n)) for n in range(COPIED)]
    stop = threading.Event()
    writers = [Writer(n, product.address, written, stop) for n in range(1, WRITERS + 1)]
    copier = Copier(WRITERS + 1, product.address, copied, stop, originals)
    for one in (*writers, copier):
        one.start()
    killed = dict.fromkeys(VICTIMS, 0)
    back: list[float] = []
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        time.sleep(chance.uniform(0.2, 1.5))
        victim = chance.choices(VICTIMS, weights=(4, 2, 2, 2))[0]
        if product.kill(victim, chance):
            killed[victim] += 1
            if victim == "worker of jobs":
                continue
            back.append(round(product.wait(PATIENCE_S), 2))
    stop.set()
    for one in (*writers, copier):
        one.join(PATIENCE_S)
    product.wait(PATIENCE_S)
    loss = audit(person, written, writers, plates)
    copies = audit_copies(person, copied, copier, 180.0)
    problems = [p for one in (*writers, copier) for p in one.problems]
    for line in (*problems, *loss.said, *copies.said):
        say(f"  {line}")
    return {
        "kills": killed,
        "back_s": back,
        "writes": sum(one.told.writes for one in (*writers, copier)),
        "jobs": len(copier.told.jobs),
        "lost": loss.lost + copies.lost + len(problems),
        "halves": loss.halves + copies.halves,
        "doubles": loss.doubles,
        "unfinished": copies.unfinished,
    }


def nonsense(product: Product, person: Person, seconds: float, seed: int) -> dict[str, Any]:
    """Nonsense from an owner, from a stranger and from nobody."""
    target = _production(person, "Full of nonsense")
    for number in range(3):
        _shot(person, target, str(number))
    stranger = Person(product.address)
    stranger.insist("GET", "/api/session")
    name = f"stranger{seed % 10_000}"
    stranger.insist(
        "POST", "/api/accounts", {"username": name, "password": f"tidal-{seed}-{uuid.uuid4()}"}
    )
    description = Description(person.insist("GET", "/api/openapi.json").body)
    stop = threading.Event()
    fools = []
    for number in range(FOOLS):
        people = {
            "owner": Person(product.address, cookies=dict(person.cookies)),
            "stranger": Person(product.address, cookies=dict(stranger.cookies)),
            "nobody": Person(product.address),
        }
        fools.append(Fool(seed + number, people, description, target, stop))
    for one in fools:
        one.start()
    stop.wait(seconds)
    stop.set()
    for one in fools:
        one.join(PATIENCE_S)
    whole = _together([one.found for one in fools])
    for line in (*whole.broken[:20], *whole.slow[:20]):
        say(f"  {line}")
    say(f"  {dict(sorted(whole.statuses.items()))}")
    return {"nonsense": whole.asked, "broken": len(whole.broken), "slow": len(whole.slow)}


def _together(found: list[Found]) -> Found:
    whole = Found()
    for one in found:
        whole.asked += one.asked
        whole.statuses += one.statuses
        whole.broken += one.broken
        whole.slow += one.slow
    return whole


def drags(product: Product, person: Person, plan: dict[str, Any], seconds: float) -> dict[str, Any]:
    """People who drag; what went wrong, and how much the web processes grew."""
    stop = threading.Event()
    people = [Dragger(n, product.address, plan, stop, person) for n in range(DRAGGERS)]
    for one in people:
        one.start()
    # What is held once is no leak, and a worker makes what it was forked with its own page by page.
    stop.wait(seconds / 2.0)
    began = product.memory_mb()
    stop.wait(seconds / 2.0)
    grown = product.memory_mb() - began
    stop.set()
    for one in people:
        one.join(PATIENCE_S)
    whole = _together([one.found for one in people])
    for line in whole.broken[:20]:
        say(f"  {line}")
    return {
        "moves": whole.asked,
        "moves_broken": len(whole.broken),
        "grown_most": round(max(grown, 0.0), 1),
    }


def away(product: Product, person: Person, seconds: float, chance: random.Random) -> dict[str, Any]:
    """No database: everybody is answered that it is away for a while."""
    found = Found()
    until = time.monotonic() + seconds

    def asking() -> None:
        own = Person(product.address, cookies=dict(person.cookies))
        while time.monotonic() < until:
            try:
                answer = own.ask("GET", "/api/productions")
            except Away as error:
                found.broken.append(f"no answer without a database: {error}")
                continue
            found.asked += 1
            if answer.status not in (200, 503) or not isinstance(answer.body, dict | list):
                found.broken.append(f"{answer.status} without a database: {answer.raw[:120]!r}")

    people = [threading.Thread(target=asking, daemon=True) for _ in range(4)]
    for one in people:
        one.start()
    while time.monotonic() < until:
        product.kill("database", chance)
        time.sleep(0.2)
    for one in people:
        one.join(PATIENCE_S)
    product.wait(PATIENCE_S)
    for line in found.broken[:20]:
        say(f"  {line}")
    return {"away_s": seconds, "away_asked": found.asked, "away_broken": len(found.broken)}


def main() -> int:
    """Besiege, tell, and add it up; 1 where anything was lost or broken."""
    minutes = float(os.environ.get("MINUTES") or 20.0)
    seed = int(time.time())
    chance = random.Random(seed)
    whole = minutes * 60.0
    say(f"Starting the product (seed {seed}) ...")
    product = Product.start()
    run: dict[str, Any] = {"runs": 1}
    try:
        person = Person(product.address)
        person.sign_in()
        # Before nonsense renames what it is found by.
        plan = plan_of(product)
        say("Kills while people write ...")
        run |= kills(product, person, KILLS * whole, chance)
        say(f"  {run}")
        say("Nonsense ...")
        run |= nonsense(product, person, NONSENSE * whole, seed)
        say("People who drag ...")
        run |= drags(product, person, plan, DRAGS * whole)
        say("No database ...")
        run |= away(product, person, max(AWAY * whole, 20.0), chance)
    finally:
        product.stop()
    say(str({name: value for name, value in run.items() if name != "back_s"}))
    path = ROOT / "docs" / "reliability.md"
    path.write_text(page(added(before(path), run), os.cpu_count()))
    names = ("lost", "halves", "doubles", "unfinished", "broken", "slow", "moves_broken")
    return 1 if any(run.get(name) for name in (*names, "away_broken")) else 0


if __name__ == "__main__":
    sys.exit(main())
