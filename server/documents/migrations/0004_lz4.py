"""Large values are compressed by LZ4 where PostgreSQL has it: a long copy, written anew at every letter, took ten times as long."""

from django.db import migrations

COLUMNS = [
    ("documents_copy", "paragraphs"), ("documents_page", "objects"), ("documents_step", "inverse"),
    ("documents_edit", "operations"), ("documents_edit", "inverse"),
]  # fmt: skip


def compressed(how: str) -> str:
    """Statements that set it for all columns, or leave it where this PostgreSQL cannot."""
    each = "".join(f'alter table {table} alter column "{column}" set compression {how};' for table, column in COLUMNS)
    return f"do $$ begin {each} exception when feature_not_supported then null; end $$"


class Migration(migrations.Migration):
    dependencies = [("documents", "0003_jobs")]
    operations = [migrations.RunSQL(compressed("lz4"), compressed("pglz"))]
