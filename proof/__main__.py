"""`make proof`: measure random plans and write docs/proof.md. `python -m proof FIRST COUNT`."""

from __future__ import annotations

import sys
import time
from collections.abc import Iterator
from datetime import date
from pathlib import Path

from jungoptic.core.stage.case import Case

from . import geometry, lights, lines, rolling
from .plans import random_case
from .reading import Reading, table

ROOT = Path(__file__).resolve().parents[1]
#: How many plans are measured, and how many of them are named where they break.
PLANS, NAMED = 200, 40
MEASURES = (
    *(geometry.places, geometry.blurs, geometry.smears, rolling.leans),
    *(lights.meters, lights.shadows, lights.cloths, lines.airs, lines.threads),
)


def measured(plan: int, case: Case | None = None) -> Iterator[Reading]:
    """Everything that is measured of a random plan."""
    case = random_case(plan) if case is None else case
    for measure in MEASURES:
        yield from measure(plan, case)


def main() -> int:
    """Measure, tell how far it is, and fail where prediction and picture lie apart."""
    first = int(sys.argv[1]) if len(sys.argv) > 1 else 0
    count = int(sys.argv[2]) if len(sys.argv) > 2 else PLANS
    begun = time.monotonic()
    found: list[Reading] = []
    for number in range(count):
        found += measured(first + number)
        gone = time.monotonic() - begun
        left = gone / (number + 1) * (count - number - 1)
        if sys.stderr.isatty() or number % 10 == 9:
            print(f"plan {number + 1} of {count}, {left:.0f} s to go", file=sys.stderr, flush=True)
    told = table(found)
    print(told)
    broken = [r for r in found if not r.good]
    for r in broken[:NAMED]:
        print(f"plan {r.plan}: {r.rule.name}: {r.predicted:.5g} told, {r.measured:.5g} seen")
    if count == PLANS and first == 0:
        (ROOT / "docs" / "proof.md").write_text(_page(told, len(found)))
    return 1 if broken else 0


def _page(told: str, count: int) -> str:
    text = (ROOT / "proof" / "page.md").read_text()
    return text.format(
        date=date.today().isoformat(), plans=PLANS, readings=f"{count:,}", table=told
    )


if __name__ == "__main__":
    sys.exit(main())
