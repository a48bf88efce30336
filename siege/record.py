"""What all sieges so far have found, added up in `docs/reliability.md`."""

from __future__ import annotations

import json
import re
from datetime import date
from pathlib import Path
from typing import Any

#: The sums stand in the page itself, where no table has to be read back.
_SUMS = re.compile(r"<!-- sums (.*?) -->", re.S)
_PAGE = Path(__file__).with_name("page.md")
#: So many times back to service are kept, to tell how long it takes.
KEPT = 5000


def before(path: Path) -> dict[str, Any]:
    """The sums of earlier sieges; {} for none."""
    found = _SUMS.search(path.read_text()) if path.exists() else None
    return {} if found is None else dict(json.loads(found[1]))


def added(sums: dict[str, Any], run: dict[str, Any]) -> dict[str, Any]:
    """Two of them together: numbers are added, lists joined, what stands within them likewise; what
    ends with `most` is the larger."""
    found = dict(sums)
    for name, value in run.items():
        old = found.get(name)
        if old is None:
            found[name] = value
        elif isinstance(value, dict):
            found[name] = added(old, value)
        elif isinstance(value, list):
            found[name] = (old + value)[-KEPT:]
        elif name.endswith("most"):
            found[name] = max(old, value)
        else:
            found[name] = old + value
    return found


def part(values: list[float], share: float) -> float:
    """The value that a share of them does not exceed; 0 without any."""
    ordered = sorted(values)
    return ordered[min(int(share * len(ordered)), len(ordered) - 1)] if ordered else 0.0


def page(sums: dict[str, Any], cores: int | None) -> str:
    """The page."""
    back = [float(v) for v in sums.get("back_s", [])]
    kills = sums.get("kills", {})
    rows = [
        ("runs", sums.get("runs", 0), ""),
        ("kill -9", sum(kills.values()), ", ".join(f"{v} {k}" for k, v in sorted(kills.items()))),
        ("acknowledged writes", sums.get("writes", 0), ""),
        ("of them lost", sums.get("lost", 0), "0"),
        ("steps found half done", sums.get("halves", 0), "0"),
        ("things found twice", sums.get("doubles", 0), "0"),
        ("long work asked for", sums.get("jobs", 0), ""),
        ("of it never ended", sums.get("unfinished", 0), "0"),
        ("seconds to serve again, median", f"{part(back, 0.5):.1f}", ""),
        ("seconds to serve again, 99th percentile", f"{part(back, 0.99):.1f}", "under 15"),
        ("nonsense requests", sums.get("nonsense", 0), ""),
        ("of them answered 5xx, or not", sums.get("broken", 0), "0"),
        ("of them slower than 5 s", sums.get("slow", 0), "0"),
        ("moves by people who drag", sums.get("moves", 0), ""),
        ("of them answered wrongly", sums.get("moves_broken", 0), "0"),
        ("megabytes that web processes grew meanwhile, at most", f"{sums.get('grown_most', 0):.0f}",
         "flat"),
        ("seconds without a database", f"{sums.get('away_s', 0):.0f}", ""),
        ("requests meanwhile", sums.get("away_asked", 0), ""),
        ("of them answered by nothing but 200 or 503", sums.get("away_broken", 0), "0"),
    ]  # fmt: skip
    table = "\n".join(f"| {name} | {value} | {aim} |" for name, value, aim in rows)
    return _PAGE.read_text().format(
        today=date.today().isoformat(),
        cores=cores,
        table=table,
        sums=json.dumps(sums, sort_keys=True),
    )
