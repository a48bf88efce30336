"""The journal only grows: the database refuses to change or delete an entry. Maintenance may replace
a person by a pseudonym, and nothing else."""

from django.db import migrations

MAKE = """
create function journal_only_grows() returns trigger language plpgsql as $$
begin
    if tg_op = 'UPDATE'
       and current_setting('jungoptic.maintenance', true) = 'on'
       and to_jsonb(new) - 'who' - 'address' = to_jsonb(old) - 'who' - 'address'
    then
        return new;
    end if;
    raise exception 'the journal only grows' using errcode = 'insufficient_privilege';
end
$$;
create trigger journal_only_grows before update or delete on journal_entry
    for each row execute function journal_only_grows();
"""
TAKE_AWAY = """
drop trigger journal_only_grows on journal_entry;
drop function journal_only_grows();
"""


class Migration(migrations.Migration):
    dependencies = [("journal", "0001_initial")]

    operations = [migrations.RunSQL(MAKE, TAKE_AWAY)]
