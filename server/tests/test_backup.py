"""Backups come back into an empty home; data of every earlier schema is brought to this one."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tarfile
import tempfile
from pathlib import Path
from typing import Any
from unittest.mock import patch

import psycopg
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import Client, TransactionTestCase, override_settings

from assets.models import Picture
from demo.pictures import draw
from documents.exchange import bring_in
from documents.models import Document
from keeping.backup import backup, restore
from nestline.errors import NestLineError
from tests.test_api import raw

SERVER = Path(__file__).resolve().parents[1]
PEEK = """
import json, sys
from django.contrib.auth.models import User
from assets import media
from assets.models import Picture
from documents.models import Document
from documents.store import raw_of, state_of
row = Document.objects.get()
state = state_of(row)
print(json.dumps({"users": list(User.objects.values_list("username", flat=True)), "raw": raw_of(row),
  "edits": row.edits.count(),
    "pictures": [media.read(p.kept).hex()[:40] for p in Picture.objects.all()],
  "nested": len(list(state.scene.nests))}))
"""


class Backups(TransactionTestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(override_settings(MEDIA_ROOT=self.folder / "media"))
        get_user_model().objects.create_user("ada", password="kites-up-high")
        self.client.force_login(get_user_model().objects.get())
        self.picture = draw()["pictures/box-kite.png"]
        self.client.post("/api/pictures", {"file": SimpleUploadedFile("kite.png", self.picture)})

    def document(self) -> Document:
        user = get_user_model().objects.get()
        row = bring_in(user.pk, "sheet", json.dumps(raw()).encode())
        change = {"do": "put", "at": ["objects", "f", "x"], "value": 33}
        body = json.dumps({"base": 1, "operations": [change]})
        self.client.post(f"/api/documents/{row.id}/edits", body, content_type="application/json")
        return row

    def elsewhere(self, home: Path, *command: str) -> subprocess.CompletedProcess[str]:
        """A command of another installation: a home and a database of its own."""
        env = {
            **os.environ,
            "NEST_HOME": str(home),
            "NEST_MEDIA": "",
            "NEST_DB_NAME": self.other,
            "NEST_SECRET": "another",
        }
        env.pop("NEST_MEDIA")
        return subprocess.run(
            [sys.executable, "manage.py", *command],
            cwd=SERVER,
            env=env,
            capture_output=True,
            text=True,
            timeout=180,
            check=False,
        )

    def another_database(self) -> None:
        self.other = f"restored_{os.getpid()}"
        wanted = settings.DATABASES["default"]

        def admin(statement: str) -> None:
            with psycopg.connect(
                host=wanted["HOST"],
                port=wanted["PORT"],
                user=wanted["USER"],
                password=wanted["PASSWORD"],
                dbname="postgres",
                autocommit=True,
            ) as to:
                to.execute(statement)  # type: ignore[arg-type]

        admin(f"drop database if exists {self.other} with (force)")
        admin(f"create database {self.other}")
        self.addCleanup(admin, f"drop database if exists {self.other} with (force)")

    def test_it_comes_back_whole_into_an_empty_home_and_only_there(self) -> None:
        self.document()
        file, home = self.folder / "all.backup", self.folder / "home"
        found = backup(file)
        self.assertEqual((found["accounts"], found["documents"]), (1, 1))
        self.assertEqual(file.stat().st_mode & 0o777, 0o600)
        home.mkdir()
        (home / "env").write_text("NEST_SECRET=another\nNEST_DB_PORT=1\n")
        self.another_database()
        done = self.elsewhere(home, "restore", str(file))
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("accounts: 1, documents: 1", done.stdout)
        seen = json.loads(self.elsewhere(home, "shell", "-c", PEEK).stdout.splitlines()[-1])
        self.assertEqual(seen["users"], ["ada"])
        self.assertEqual(seen["raw"]["pages"][0]["objects"][0]["x"], 33)
        self.assertEqual((seen["edits"], seen["pictures"], seen["nested"]), (1, [self.picture.hex()[:40]], 1))
        self.assertEqual(
            (home / "env").read_text().splitlines(), [f"NEST_SECRET={settings.SECRET_KEY}", "NEST_DB_PORT=1"]
        )
        again = self.elsewhere(home, "restore", str(file))
        self.assertNotEqual(again.returncode, 0)
        self.assertIn("into an empty home alone", again.stderr)

    def test_what_is_no_backup_changes_nothing(self) -> None:
        for content in (b"", b"no archive", draw()["pictures/box-kite.png"]):
            (self.folder / "other").write_bytes(content)
            with self.assertRaisesRegex(NestLineError, "cannot be read"):
                restore(self.folder / "other")
        with tarfile.open(self.folder / "strange", "w") as archive:
            (self.folder / "manifest.json").write_text('{"format": "another"}')
            archive.add(self.folder / "manifest.json", "manifest.json")
        with self.assertRaisesRegex(NestLineError, "no backup of Nest Line"):
            restore(self.folder / "strange")
        self.assertEqual(get_user_model().objects.count(), 1)

    def test_a_backup_that_fails_leaves_no_file(self) -> None:
        with (
            patch("keeping.backup._tool", return_value="/bin/false"),
            self.assertRaisesRegex(NestLineError, "false failed"),
        ):
            backup(self.folder / "all.backup")
        self.assertEqual([p.name for p in self.folder.glob("all*")], [])
        with self.assertRaisesRegex(NestLineError, "could not be written"):
            backup(self.folder / "nowhere" / "all.backup")

    def test_while_one_is_made_no_file_is_deleted(self) -> None:
        path = self.folder / "media" / Picture.objects.get().kept
        client = Client()
        client.force_login(get_user_model().objects.get())
        wanted = settings.DATABASES["default"]
        from assets.holding import LOCK

        with psycopg.connect(
            host=wanted["HOST"],
            port=wanted["PORT"],
            user=wanted["USER"],
            password=wanted["PASSWORD"],
            dbname=connection.settings_dict["NAME"],
            autocommit=True,
        ) as other:
            other.execute("select pg_advisory_lock(%s)", [LOCK])
            Picture.objects.all().delete()
            self.assertTrue(path.is_file())
        client.post("/api/pictures", {"file": SimpleUploadedFile("kite.png", self.picture)})
        Picture.objects.all().delete()
        self.assertFalse(path.is_file())


class Upgrades(TransactionTestCase):
    """Rows as each earlier schema had them are brought to this one, and open."""

    def at(self, documents: str, assets: str) -> Any:
        executor = MigrationExecutor(connection)
        executor.migrate([("documents", documents), ("assets", assets)])
        return MigrationExecutor(connection).loader.project_state([("documents", documents), ("assets", assets)]).apps

    def tearDown(self) -> None:
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())

    def test_documents_of_every_schema_open(self) -> None:
        loader = MigrationExecutor(connection).loader
        names = sorted(name for app, name in loader.disk_migrations if app == "documents")
        assets = sorted(name for app, name in loader.disk_migrations if app == "assets")
        user = get_user_model().objects.create_user("ada", password="kites-up-high")
        document = raw()
        made = {}
        for name in names:
            kept = [a for a in assets if a <= "0003_z"] if name < "0007" else assets
            old = self.at(name, kept[-1])
            row = old.get_model("documents", "Document").objects.create(
                owner_id=user.pk, title=f"of {name}", head={}, revision=1
            )
            sheet = {k: v for k, v in document["pages"][0].items() if k != "objects"}
            page = {
                "document_id": row.pk,
                "position": 0,
                "sheet": sheet,
                "objects_json": document["pages"][0]["objects"],
            }
            old.get_model("documents", "Page").objects.create(**page)
            version = document["copies"]["story"]["versions"]["en"]
            old.get_model("documents", "Copy").objects.create(
                document_id=row.pk,
                name="story",
                version="en",
                language="en",
                paragraphs=version["paragraphs"],
                position=0,
            )
            made[row.pk] = name
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())
        self.client.force_login(user)
        for id, name in made.items():
            opened = self.client.get(f"/api/documents/{id}")
            self.assertEqual(opened.status_code, 200, name)
            self.assertEqual(opened.json()["document"]["pages"], document["pages"])
