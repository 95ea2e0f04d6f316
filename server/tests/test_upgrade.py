"""An upgrade without a pause: the version before goes on against tables that are brought to this one."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY, get_user_model
from django.db import connection, migrations, models
from django.db.migrations.executor import MigrationExecutor
from django.db.migrations.loader import MigrationLoader
from django.test import TestCase

from documents.models import Document, Share
from people.sessions_kept import MOVED, SessionStore

BEFORE = {"documents": "0006_source", "assets": "0003_recipes"}
"""The tables that the version before this knows; of apps that are not named it knows none. Set anew with each
version."""
OURS = ("documents", "assets", "people")
ADDS = (migrations.CreateModel, migrations.AddField, migrations.AddIndex, migrations.RunSQL)
"""What a migration may do; statements of its own are held to the same by reading them (`goes_with` and the like)."""


def later() -> list[migrations.Migration]:
    """The migrations that the version before does not know."""
    loader = MigrationLoader(connection)
    known = {(app, name) for app, name in loader.graph.nodes if app in BEFORE and name <= BEFORE[app]}
    return [found for key, found in sorted(loader.disk_migrations.items()) if key[0] in OURS and key not in known]


def fillable(field: models.Field[Any, Any]) -> bool:
    """Whether a row can be written by code that does not know the column."""
    return field.null or field.many_to_many or field.db_default is not models.NOT_PROVIDED


class Rules(TestCase):
    def test_migrations_only_add_what_the_version_before_can_leave_away(self) -> None:
        found = later()
        self.assertGreater(len(found), 3)
        created = {op.name_lower for one in found for op in one.operations if isinstance(op, migrations.CreateModel)}
        for one in found:
            for op in one.operations:
                self.assertIsInstance(op, ADDS, one)
                if isinstance(op, migrations.AddField) and op.model_name_lower not in created:
                    self.assertTrue(fillable(op.field), (one, op.name))

    def test_what_adds_a_column_that_must_be_filled_is_found(self) -> None:
        for field, wanted in (
            (models.IntegerField(default=3), False),
            (models.IntegerField(db_default=3), True),
            (models.IntegerField(null=True), True),
            (models.CharField(max_length=3, default="", blank=True), False),
        ):
            self.assertEqual(fillable(field), wanted)

    def test_rows_of_new_tables_do_not_hold_what_they_belong_to(self) -> None:
        loader = MigrationLoader(connection)
        old = MigrationExecutor(connection).loader.project_state(self.nodes(loader)).apps
        known = {model._meta.db_table for model in old.get_models()}
        with connection.cursor() as cursor:
            cursor.execute(
                "select conrelid::regclass::text, confrelid::regclass::text, confdeltype::text from "
                "pg_constraint where contype = 'f'"
            )
            held = [
                (table, other)
                for table, other, how in cursor.fetchall()
                if table.partition("_")[0] in OURS and table not in known and other in known and how not in ("c", "n")
            ]
        self.assertIn("documents_share", connection.introspection.table_names())
        self.assertEqual(held, [])

    @staticmethod
    def nodes(loader: MigrationLoader) -> list[tuple[str, str]]:
        """The last migrations of the version before."""
        others = [key for key in loader.graph.leaf_nodes() if key[0] not in OURS]
        return [*others, *BEFORE.items()]


class Sessions(TestCase):
    def test_who_was_signed_in_before_stays_so(self) -> None:
        """By whatever class let them in then; those that do now are named here, so that none moves unseen."""
        self.assertEqual(
            settings.AUTHENTICATION_BACKENDS, ["axes.backends.AxesStandaloneBackend", "people.signing.Backend"]
        )
        user = get_user_model().objects.create_user("ada")
        for backend in (*MOVED, *settings.AUTHENTICATION_BACKENDS[1:]):
            session = SessionStore()
            session.update(
                {
                    SESSION_KEY: str(user.pk),
                    BACKEND_SESSION_KEY: backend,
                    HASH_SESSION_KEY: user.get_session_auth_hash(),
                }
            )
            session.save()
            self.client.cookies[settings.SESSION_COOKIE_NAME] = session.session_key or ""
            self.assertEqual(self.client.get("/api/session").json()["name"], "ada", backend)


class TheVersionBefore(TestCase):
    """Its own models, as migrations know them, against the tables of today: written, read, changed, deleted."""

    def test_it_goes_on_with_rows_of_both(self) -> None:
        loader = MigrationLoader(connection)
        old = MigrationExecutor(connection).loader.project_state(Rules.nodes(loader)).apps
        user = get_user_model().objects.create_user("ada")
        filled = 0
        for model in old.get_models():
            if model._meta.app_label in ("documents", "assets"):
                row = self.row(old, model, user.pk)
                self.assertEqual(model._default_manager.get(pk=row.pk).pk, row.pk)
                row.save()
                filled += 1
        self.assertGreater(filled, 8)
        # What this version made of one of them does not keep the version before from deleting it.
        document = Document.objects.first()
        assert document is not None
        Share.objects.create(document=document, user=get_user_model().objects.create_user("ben"), may="see")
        old.get_model("documents", "Document").objects.all().delete()
        self.assertFalse(Document.objects.exists() or Share.objects.exists())

    def row(self, old: Any, model: Any, user_id: int) -> Any:
        """A row of a model with something in every column that has no default."""
        given: dict[str, Any] = {}
        for field in model._meta.concrete_fields:
            if field.primary_key or field.null or field.has_default() or getattr(field, "auto_now_add", False):
                continue
            if isinstance(field, models.ForeignKey):
                other = field.related_model
                if other._meta.model_name == "user":
                    given[field.attname] = user_id
                else:
                    given[field.attname] = (other._default_manager.first() or self.row(old, other, user_id)).pk
            elif isinstance(field, models.BooleanField):
                given[field.attname] = True
            elif isinstance(field, models.JSONField):
                given[field.attname] = {}
            elif isinstance(field, (models.IntegerField, models.FloatField)):
                given[field.attname] = 1
            elif isinstance(field, (models.CharField, models.TextField)):
                given[field.attname] = "en"
            elif isinstance(field, models.BinaryField):
                given[field.attname] = b"x"
        return model._default_manager.create(**given)
