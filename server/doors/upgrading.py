"""What makes a migration one that the version before survives: for the minutes in which both run against one database.

Migrations come first, hosts after them, one at a time. So a migration only adds: tables; columns that may be empty, or
that the database fills by itself (`db_default`); indexes. What goes, goes a version after the code that needed it. A
row of a table that the version before does not know must not keep it from deleting what that row belongs to: it goes by
the database's own hand. A class that sessions name stays where it is, or is found where it moved to
(`people.sessions_kept.MOVED`): else everybody is signed out. `server/tests/test_upgrade.py` holds every migration to
it.
"""

from __future__ import annotations

from typing import Literal

from django.db import migrations


def goes_with(
    table: str, column: str, other: str, how: Literal["cascade", "set null"] = "cascade"
) -> migrations.RunSQL:
    """A migration's operation: rows of `table` go with the row of `other` that `column` names, or forget it, whoever
    deletes that."""
    return migrations.RunSQL(
        f"""do $$
        declare known text;
        begin
          select conname into strict known from pg_constraint
            where contype = 'f' and conrelid = '{table}'::regclass and confrelid = '{other}'::regclass
            and conkey = array[(select attnum from pg_attribute
              where attrelid = '{table}'::regclass and attname = '{column}')];
          execute format('alter table {table} drop constraint %I', known);
          execute format('alter table {table} add constraint %I foreign key ({column}) references {other} (id) '
            'on delete {how} deferrable initially deferred', known);
        end $$""",
        migrations.RunSQL.noop,
    )
