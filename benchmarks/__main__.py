"""`make bench`: measures side by side in one run and writes docs/benchmarks.md.

Ratios are what counts: seconds depend on the machine and on what else it does.
"""

from __future__ import annotations

import os
import sys
from datetime import date
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1] / "tools"))

from throwaway import ROOT, database


def main() -> int:
    """Run all measurements on a throw-away demo."""
    with database():
        from . import (
            board,
            developing,
            dragging,
            filmed,
            lighting,
            many,
            planning,
            recompute,
            seeing,
            sheets,
        )

        # The Board and the planning come last: they fill the demo with copies.
        sections = []
        for measure in (
            recompute.measure,
            recompute.measure_growth,
            seeing.measure,
            dragging.measure,
            lighting.measure,
            filmed.measure,
            developing.measure,
            sheets.measure,
            many.measure,
            board.measure,
            lambda: planning.measure(ROOT / "docs"),
        ):
            sections.append(measure())
            # At once, so that what was measured is not lost with what fails after it.
            print(sections[-1], flush=True)
    text = (
        "# Benchmarks\n\n"
        f"Written by `make bench` on {date.today().isoformat()}, "
        f"{os.cpu_count()} processors. Every figure of a table comes from the same run, the cases "
        "taken in turn, so that the ratios hold when the machine's speed drifts.\n\n"
        + "\n\n".join(sections)
        + "\n"
    )
    (ROOT / "docs" / "benchmarks.md").write_text(text)
    return 0


if __name__ == "__main__":
    sys.exit(main())
