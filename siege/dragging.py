"""People who drag on the Bench: as many as are hoped for, one answer after another."""

from __future__ import annotations

import copy
import json
import os
import random
import subprocess
import sys
import threading
from typing import Any

from .nonsense import Found
from .person import Away, Person
from .product import ROOT, Product

#: A second of a hand is about so many moves that are asked.
PAUSE_S = 0.1

_PLAN = """
import json
from jungoptic.web.plans.bridge import plan_json
from jungoptic.web.plans.models import Shot
shot = Shot.objects.get(title="The tide mill, wide")
print("PLAN" + json.dumps(plan_json(shot), default=str))
"""


def plan_of(product: Product) -> dict[str, Any]:
    """The plan of the demo's second shot, as the Bench would send it."""
    reach = product.cluster.start()
    env = {
        **os.environ,
        **reach.env(),
        "DJANGO_SETTINGS_MODULE": "jungoptic.web.settings",
        "JUNGOPTIC_DEMO": "1",
        "PYTHONPATH": str(ROOT / "src"),
    }
    command = [sys.executable, "-W", "ignore", "-m", "django", "shell", "-v", "0", "-c", _PLAN]
    done = subprocess.run(command, cwd=ROOT, env=env, capture_output=True, text=True, check=True)
    line = next(one for one in done.stdout.splitlines() if one.startswith("PLAN"))
    found: dict[str, Any] = json.loads(line[4:])
    return found


class Dragger(threading.Thread):
    """Somebody who drags the camera of a shot up and down."""

    def __init__(
        self, seed: int, address: str, plan: dict[str, Any], stop: threading.Event, person: Person
    ) -> None:
        super().__init__(daemon=True)
        self.person = Person(address, cookies=dict(person.cookies))
        self.plan, self.stop_now = plan, stop
        self.chance = random.Random(seed)
        self.found = Found()
        self.times: list[float] = []

    def run(self) -> None:
        """Drag until told to stop; send the plan whole where it is not kept."""
        name = ""
        while not self.stop_now.is_set():
            shot = copy.deepcopy(self.plan["shot"])
            shot["camera_height_m"] = round(self.chance.uniform(1.0, 2.0), 3)
            question: dict[str, Any] = {"changes": {"shot": shot}}
            question |= {"kept": name} if name else {"plan": self.plan}
            try:
                answer = self.person.ask("POST", "/api/calc/kept", question)
            except Away as error:
                self.found.broken.append(f"no answer while dragging: {error}")
                continue
            self.found.asked += 1
            self.found.statuses[answer.status] += 1
            if answer.status == 412:
                name = ""
            elif answer.status != 200:
                self.found.broken.append(
                    f"{answer.status} while dragging: {str(answer.body)[:200]}"
                )
            else:
                name = str(answer.body.get("kept") or "")
                self.times.append(answer.seconds)
            self.stop_now.wait(PAUSE_S)
