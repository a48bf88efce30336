"""The journal moves into a table of its own, which outlives the productions that it tells of."""

from django.db import migrations

MOVE = """
insert into journal_entry (
    at, user_id, who, address, request, production_id, kind, record_id, action, before, after, version
)
select old.at, old.user_id, coalesce(person.username, ''), '', '', old.production_id, old.kind,
       old.record_id::text, old.action, old.before, old.after, 1
from productions_journalentry old left join accounts_user person on person.id = old.user_id
order by old.id;
"""


class Migration(migrations.Migration):
    dependencies = [
        ("journal", "0002_append_only"),
        ("productions", "0002_bounds"),
        ("accounts", "0002_name_key"),
    ]

    operations = [
        migrations.RunSQL(MOVE, migrations.RunSQL.noop),
        migrations.DeleteModel("JournalEntry"),
    ]
