from typing import Any

from django.db import migrations


def forget(apps: Any, schema_editor: Any) -> None:
    """One shape was what every plate began with: nobody decided it where nothing is cut by hand."""
    plates = apps.get_model("plans", "Plate").objects
    plates.filter(shapes=1).exclude(cut="roto").update(shapes=None)


def one(apps: Any, schema_editor: Any) -> None:
    apps.get_model("plans", "Plate").objects.filter(shapes=None).update(shapes=1)


class Migration(migrations.Migration):
    dependencies = [("plans", "0012_views")]
    operations = [migrations.RunPython(forget, one)]
