"""A share goes with its document, its reader or its team, whoever deletes them: the version before does not know shares."""

from django.db import migrations

from doors.upgrading import goes_with


class Migration(migrations.Migration):
    dependencies = [("documents", "0007_share"), ("people", "0001_initial")]
    operations = [
        goes_with("documents_share", "document_id", "documents_document"),
        goes_with("documents_share", "user_id", "auth_user"),
        goes_with("documents_share", "team_id", "people_team"),
    ]
