"""Whether frames are told by their neighbours is asked for; it used to be read out of the name of the
codec, which is done here for the last time."""

from typing import Any

from django.db import migrations, models


def read_once(apps: Any, schema_editor: Any) -> None:
    """As the name of the codec was understood before."""
    apps.get_model("kit", "Mode").objects.filter(codec__icontains="gop").update(long_gop=True)


class Migration(migrations.Migration):
    dependencies = [
        ("kit", "0004_tricks"),
    ]

    operations = [
        migrations.AddField(
            model_name="mode",
            name="long_gop",
            field=models.BooleanField(default=False),
        ),
        migrations.RunPython(read_once, migrations.RunPython.noop),
    ]
