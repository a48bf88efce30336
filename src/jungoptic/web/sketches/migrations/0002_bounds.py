from typing import Any

from django.db import migrations, models

#: As far out as a place in an order may lie.
MOST = 1e6


def bring_in(apps: Any, schema_editor: Any) -> None:
    """Places in an order that grew past the bounds; age keeps their order there."""
    for name in ("Sketch",):
        rows = apps.get_model("sketches", name).objects
        rows.filter(position__gt=MOST).update(position=MOST)
        rows.filter(position__lt=-MOST).update(position=-MOST)


class Migration(migrations.Migration):
    dependencies = [
        ("plans", "0007_bounds"),
        ("sketches", "0001_initial"),
    ]

    operations = [
        migrations.RunPython(bring_in, migrations.RunPython.noop),
        migrations.AddConstraint(
            model_name="annotation",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    ("distance_m__gte", 0.01),
                    ("distance_m__lte", 1000000.0),
                    ("height_m__gte", 0.001),
                    ("height_m__lte", 100000.0),
                ),
                name="annotation_within_bounds",
            ),
        ),
        migrations.AddConstraint(
            model_name="sketch",
            constraint=models.CheckConstraint(
                condition=models.Q(("position__gte", -1000000.0), ("position__lte", 1000000.0)),
                name="sketch_within_bounds",
            ),
        ),
    ]
