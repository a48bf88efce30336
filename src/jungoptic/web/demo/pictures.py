"""What the simulated camera has made of the demo, shipped with it: nobody has to wait for a first
picture.

A picture is laid in only where it is of the very plan that the demo has now; `make demo-pictures`
makes them anew.
"""

from __future__ import annotations

import hashlib
import json
import re
from pathlib import Path
from typing import Any

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage

from jungoptic.core.impossible import Impossible

from ..developed.keeping import Subject, keep, run, shown, stamp
from ..developed.models import FOLDER, Developed, DryRun
from ..plans.models import Shot
from ..plans.stored import plan_json
from ..productions.models import Production

HERE = Path(__file__).with_name("pictures")
LIST = HERE / "list.json"
#: How wide developed pictures and dry runs are.
WIDE_PX, RUN_PX = 480, 640
#: Ids, and days that are told from today, differ each time the demo is made.
ID = re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}")
DAY = re.compile(r"\d{4}-\d\d-\d\d[T \d:.+Z-]*")


def digest(plan: dict[str, Any]) -> str:
    """What tells one plan from another in its pictures, whatever its ids are and whenever it was
    made."""
    seen: dict[str, str] = {}
    text = json.dumps(shown(plan), sort_keys=True, default=str)
    text = ID.sub(lambda m: seen.setdefault(m[0], f"id{len(seen)}"), text)
    return hashlib.blake2b(DAY.sub("day", text).encode(), digest_size=12).hexdigest()


def _listed() -> dict[str, Any]:
    found: dict[str, Any] = json.loads(LIST.read_text()) if LIST.exists() else {}
    return found


def _stored(name: str) -> str:
    stored: str = default_storage.save(
        f"{FOLDER}/demo.webp", ContentFile((HERE / name).read_bytes())
    )
    return stored


def lay(production: Production) -> int:
    """Put the pictures that came with the demo to their shots; how many there were."""
    listed, count = _listed(), 0
    for shot in production.shots.all():
        own = listed.get(shot.number)
        plan = plan_json(shot)
        if own is None or own["plan"] != digest(plan):
            continue
        now = stamp(plan)
        plates = {plate.name: plate for plate in shot.plates.all()}
        for one in own["pictures"]:
            rest = {n: one[n] for n in ("width_px", "height_px", "remarks")}
            plate = plates.get(one["plate"]) if one["plate"] else None
            file = _stored(one["file"])
            Developed.objects.create(shot=shot, plate=plate, stamp=now, picture=file, **rest)
            count += 1
        if own["run"]:
            rest = {n: own["run"][n] for n in ("width_px", "height_px", "hole", "remarks")}
            ids = {s.name: str(s.pk) for s in shot.stand_ins.all()}
            things = [{**t, "thing_id": ids.get(t["name"], "")} for t in own["run"]["things"]]
            DryRun.objects.create(
                shot=shot,
                stamp=now,
                things=things,
                composite=_stored(own["run"]["composite"]),
                story=_stored(own["run"]["story"]),
                **rest,
            )
            count += 1
    return count


def make(production: Production, say: Any = print, changed: bool = False) -> None:
    """Develop every plate and every story of the demo, run every shot dry, and write them here;
    `changed`: only of the shots whose plan is another than that of the pictures here."""
    HERE.mkdir(exist_ok=True)
    before = _listed() if changed else {}
    listed = {}
    for shot in production.shots.all():
        kept = before.get(shot.number)
        if kept is None or kept["plan"] != digest(plan_json(shot)):
            kept = _made(shot)
            say(f"shot {shot.number}: {len(kept['pictures'])} pictures")
        listed[shot.number] = kept
    LIST.write_text(json.dumps(listed, indent=1, sort_keys=True) + "\n")
    used = {one["file"] for own in listed.values() for one in own["pictures"]}
    used |= {own["run"][n] for own in listed.values() if own["run"] for n in ("composite", "story")}
    for old in HERE.glob("*.webp"):
        if old.name not in used:
            old.unlink()


def _made(shot: Shot) -> dict[str, Any]:
    def tell(done: int, of: int) -> None:
        pass

    found: dict[str, Any] = {"plan": digest(plan_json(shot)), "pictures": [], "run": None}
    for number, plate in enumerate([None, *shot.plates.all()]):
        try:
            one = keep(shot, Subject(plate, None, 1), WIDE_PX, tell)
        except Impossible:
            continue
        name = f"{shot.number}-{number}.webp"
        _write(one.picture, name)
        found["pictures"].append(
            {
                "plate": "" if plate is None else plate.name,
                "file": name,
                **{n: getattr(one, n) for n in ("width_px", "height_px", "remarks")},
            }
        )
    try:
        dry = run(shot, None, 1, RUN_PX, tell)
    except Impossible:
        return found
    names = {"composite": f"{shot.number}-run.webp", "story": f"{shot.number}-run-story.webp"}
    for which, name in names.items():
        _write(getattr(dry, which), name)
    found["run"] = {
        **names,
        "things": dry.things,
        **{n: getattr(dry, n) for n in ("width_px", "height_px", "hole", "remarks")},
    }
    return found


def _write(stored: str, name: str) -> None:
    with default_storage.open(stored, "rb") as file:
        (HERE / name).write_bytes(file.read())
