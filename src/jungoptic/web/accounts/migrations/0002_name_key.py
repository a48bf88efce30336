"""What tells two user names apart is stored beside them. Names that only case told apart so far keep
their accounts: the younger one's key carries its number."""

import unicodedata
from typing import Any

from django.db import migrations, models


def keyed(apps: Any, schema_editor: Any) -> None:
    """As `accounts.names.key` at the time of writing."""
    users = apps.get_model("accounts", "User").objects
    taken: set[str] = set()
    for user in users.order_by("pk"):
        name = unicodedata.normalize("NFKC", user.username)
        key = unicodedata.normalize("NFKC", name.casefold())
        user.name_key = key if key not in taken else f"{key} {user.pk}"
        taken.add(user.name_key)
        user.save(update_fields=["name_key"])


class Migration(migrations.Migration):
    dependencies = [("accounts", "0001_initial")]

    operations = [
        migrations.AddField(
            model_name="user",
            name="name_key",
            field=models.CharField(default="", editable=False, max_length=200),
        ),
        migrations.RunPython(keyed, migrations.RunPython.noop),
        migrations.AlterField(
            model_name="user",
            name="name_key",
            field=models.CharField(editable=False, max_length=200, unique=True),
        ),
    ]
