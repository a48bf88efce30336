from collections import defaultdict
from typing import Any

from django.db import migrations

#: The longest name.
LONGEST = 20


def told_apart(apps: Any, schema_editor: Any) -> None:
    """A lock-off is the production's now and its name tells it from any other: those of several
    shots, or of several views of one, that happened to have the same letter get names of their
    own, with the shot's number before it."""
    Plate = apps.get_model("plans", "Plate")
    rows = Plate.objects.exclude(lock_group="").order_by(
        "shot__position", "shot__created_at", "shot_id", "position", "created_at", "id"
    )
    stands: dict[Any, dict[str, dict[Any, list[Any]]]] = defaultdict(
        lambda: defaultdict(lambda: defaultdict(list))
    )
    for plate in rows.select_related("shot").only(
        "id", "lock_group", "view_id", "shot__production_id", "shot__number"
    ):
        where = (plate.shot_id, plate.view_id, plate.shot.number)
        stands[plate.shot.production_id][plate.lock_group][where].append(plate.pk)
    for named in stands.values():
        taken = set(named)
        for name, places in named.items():
            if len(places) < 2:
                continue
            for (_, _, number), plates in places.items():
                new = _free(taken, number, name)
                taken.add(new)
                Plate.objects.filter(pk__in=plates).update(lock_group=new)


def _free(taken: set[str], number: str, name: str) -> str:
    for more in ("", *range(2, 10_000)):
        end = f"-{name[:8]}{more}"
        found = f"{number[: LONGEST - len(end)]}{end}"
        if found not in taken:
            return found
    raise AssertionError("unreachable: fewer lock-offs than numbers")


def as_they_are(apps: Any, schema_editor: Any) -> None:
    """Names that are told apart may stay."""


class Migration(migrations.Migration):
    dependencies = [("plans", "0017_people")]
    operations = [migrations.RunPython(told_apart, as_they_are)]
