"""What belongs to an account goes with it, whoever deletes it: the version before knows none of these tables."""

from django.db import migrations

from doors.upgrading import goes_with


class Migration(migrations.Migration):
    dependencies = [("people", "0001_initial")]
    operations = [
        goes_with("people_member", "user_id", "auth_user"),
        goes_with("people_invitation", "by_id", "auth_user"),
        goes_with("people_visit", "user_id", "auth_user"),
        goes_with("people_passkey", "user_id", "auth_user"),
        goes_with("people_happening", "user_id", "auth_user", "set null"),
    ]
