"""Every set card has a board; cards from before get their numbers here."""

import hashlib
from typing import Any

from django.db import migrations, models

#: As many as there were when this was written.
NUMBERS = 990 * 990


def number(apps: Any, schema_editor: Any) -> None:
    """By its id, as new ones are; the next one that is free."""
    cards = apps.get_model("takes", "SetCard")
    taken: set[int] = set()
    for card in cards.objects.filter(board=None).only("pk").order_by("created_at", "pk"):
        wanted = int.from_bytes(hashlib.sha256(str(card.pk).encode()).digest()[:8], "big")
        while wanted % NUMBERS in taken:
            wanted += 7919
        taken.add(wanted % NUMBERS)
        cards.objects.filter(pk=card.pk).update(board=wanted % NUMBERS)


class Migration(migrations.Migration):
    dependencies = [
        ("takes", "0003_files"),
    ]

    operations = [
        migrations.AddField("setcard", "board", models.PositiveIntegerField(null=True)),
        migrations.AddField("setcard", "ruler_mm", models.FloatField(default=100.0)),
        migrations.AddField("take", "by_board", models.BooleanField(default=False)),
        migrations.RunPython(number, migrations.RunPython.noop),
        migrations.AlterField("setcard", "board", models.PositiveIntegerField(db_index=True)),
        migrations.AddConstraint(
            "setcard",
            models.CheckConstraint(
                condition=models.Q(("ruler_mm__gte", 50.0), ("ruler_mm__lte", 200.0)),
                name="card_within_bounds",
            ),
        ),
    ]
