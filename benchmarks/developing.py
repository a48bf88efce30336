"""Pictures of the simulated camera: how long somebody waits for them, and the memory they take.

`python -m benchmarks.developing` is the child: it reads a pickled plan from its standard input.
"""

from __future__ import annotations

import json
import pickle
import resource
import subprocess
import sys
import time
from collections.abc import Callable
from typing import Any

AIMS = {
    "a new process, to its first picture 480 wide": 6.0,
    "480 wide": 3.0,
    "960 wide": 15.0,
    "a place pixel for pixel, compressed": 6.0,
}
#: A dry run of four plates takes at most this, seconds; a process this much memory, GB.
RUN_S, MEMORY_GB = 60.0, 1.5


def measure() -> str:
    """The table as Markdown."""
    from jungoptic.render.engine import available
    from jungoptic.web.plans.bridge import load
    from jungoptic.web.plans.models import Shot
    from jungoptic.web.plans.stored import plan_json

    if not available():
        return "## Developed pictures\n\nThe rendering engine is not installed."
    shots = [load(plan_json(Shot.objects.get(number=number))) for number in ("2", "3")]
    # The engine compiles what it has not yet; a worker that was ever started has all of it.
    _child(*shots)
    told = _child(*shots)
    plates = told.pop("plates")
    memory = told.pop("memory")
    rows = [f"| {name} | {told[name]:.1f} | {aim:.0f} |" for name, aim in AIMS.items()]
    rows.append(f"| a dry run of {plates} plates, 640 wide | {told['run']:.1f} | {RUN_S:.0f} |")
    return (
        "## Developed pictures\n\n"
        "The demo's shot 2 (the mill, eight rays a pixel; sixteen where it is large) and all "
        "plates of shot 3, in a process of its own as a worker has it, both processors, seconds. "
        "The code that the engine compiles is kept from a run before. Memory at most "
        f"{memory:.2f} GB (aim {MEMORY_GB:g}).\n\n"
        "| | s | aim |\n| --- | ---: | ---: |\n" + "\n".join(rows)
    )


def _child(*shots: Any) -> dict[str, Any]:
    begun = time.time()
    done = subprocess.run(
        [sys.executable, "-m", "benchmarks.developing", str(begun)],
        input=pickle.dumps(shots),
        stdout=subprocess.PIPE,
        check=True,
    )
    found: dict[str, Any] = json.loads(done.stdout)
    return found


def main() -> None:
    """Develop, and print how long each took."""
    from jungoptic.core.lockoff.pieces import pieces
    from jungoptic.media.compressed import compressed
    from jungoptic.render import dry_run
    from jungoptic.render.closely import closely
    from jungoptic.render.picture import develop

    one, several = pickle.loads(sys.stdin.buffer.read())
    mill = next(p for p in one.plates if p.kind == "miniature")
    develop(one, mill, width=480)
    told: dict[str, Any] = {next(iter(AIMS)): time.time() - float(sys.argv[1])}

    def card(frames: Any, kept: Any) -> Any:
        return compressed(frames, kept.bits_a_frame, kept.bits, kept.samples, kept.long_gop)

    cases: dict[str, Callable[[], Any]] = {
        "480 wide": lambda: develop(one, mill, width=480),
        "960 wide": lambda: develop(one, mill, width=960),
        "a place pixel for pixel, compressed": lambda: closely(one, mill, (0.5, 0.5), card),
        "run": lambda: dry_run.run(several, width=640),
    }
    for name, case in cases.items():
        begun = time.time()
        case()
        told[name] = time.time() - begun
    told["plates"] = len(pieces(several))
    told["memory"] = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e6
    print(json.dumps(told))


if __name__ == "__main__":
    main()
