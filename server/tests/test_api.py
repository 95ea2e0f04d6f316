"""The API: sessions, documents, the edit door, previews, pictures, import and export."""

import io
import json
import os
import random
import secrets
import subprocess
import sys
import tempfile
import zipfile
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from unittest.mock import patch

from axes.models import AccessAttempt
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError, connection
from django.test import Client, TestCase, override_settings
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from assets.models import Picture
from demo.pictures import draw
from documents import store
from documents.door import Wanted, make_edit
from documents.models import Copy, Document, Edit
from documents.store import create, raw_of
from doors.compiled import Compiled
from draws import seeds, thrown
from people.signing import Backend

MEDIA = tempfile.TemporaryDirectory()


def story(*texts: str) -> list[dict[str, Any]]:
    return [{"runs": [{"text": t}]} for t in texts]


def raw(**more: Any) -> dict[str, Any]:
    thing = {
        "id": "f",
        "x": 20,
        "y": 20,
        "width": 200,
        "height": 200,
        "outline": {"kind": "ellipse"},
        "frame": {"copy": "story", "sit": "middle"},
    }
    wrap = {"id": "w", "x": 100, "y": 60, "width": 40, "height": 40, "wrap": {"by": "outline", "clearance": 4}}
    copies = {
        "story": {
            "versions": {
                "en": {
                    "language": "en",
                    "paragraphs": story("Bring string, bring friends, and bring whatever you built."),
                }
            }
        }
    }
    return {
        "format": "nest-line",
        "version": 1,
        "title": "Flyer",
        "copies": copies,
        "pages": [{"width": 300, "height": 300, "objects": [thing, wrap]}],
        **more,
    }


@override_settings(MEDIA_ROOT=Path(MEDIA.name), PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])
class ApiCase(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        users = get_user_model().objects
        cls.ada, cls.ben = (
            users.create_user("ada", password="kites-up-high"),
            users.create_user("ben", password="kites-down-low"),
        )

    def setUp(self) -> None:
        self.client.force_login(self.ada)

    def bring(self, document: Any = None, name: str = "flyer.json") -> Any:
        content = document if isinstance(document, bytes) else json.dumps(document or raw()).encode()
        return self.client.post("/api/documents/import", {"file": SimpleUploadedFile(name, content)})

    def new(self) -> int:
        return self.bring().json()["id"]

    def send(self, path: str, body: Any) -> Any:
        return self.client.post(path, json.dumps(body), content_type="application/json")

    def edit(self, id: int, base: int, *operations: Any, **more: Any) -> Any:
        return self.send(f"/api/documents/{id}/edits", {"base": base, "operations": operations, **more})

    def open(self, id: int) -> Any:
        return self.client.get(f"/api/documents/{id}").json()


def put(at: list[Any], value: Any) -> dict[str, Any]:
    return {"do": "put", "at": at, "value": value}


class Sessions(ApiCase):
    def test_signing_in_and_out(self) -> None:
        client = Client()
        self.assertEqual(client.get("/api/session").json(), {"name": None, "live": ""})
        self.assertEqual(client.get("/api/documents").status_code, 401)
        sent = client.post("/api/session", {"name": "ada", "password": "wrong"}, content_type="application/json")
        self.assertEqual(sent.status_code, 401)
        self.assertIn("do not belong together", sent.json()["message"])
        client.post("/api/session", {"name": "ada", "password": "kites-up-high"}, content_type="application/json")
        self.assertEqual(client.get("/api/session").json()["name"], "ada")
        client.delete("/api/session")
        self.assertEqual(client.get("/api/documents").status_code, 401)

    def test_who_is_no_longer_there_or_may_not_come_in_is_signed_out(self) -> None:
        self.assertEqual(self.client.get("/api/session").json()["name"], "ada")
        self.ada.set_password("another-kite")
        self.ada.save()
        self.assertEqual(self.client.get("/api/documents").status_code, 401)
        self.client.force_login(self.ada)
        self.ada.is_active = False
        self.ada.save()
        self.assertEqual(self.client.get("/api/documents").status_code, 401)
        other = Client()
        other.force_login(self.ben)
        self.assertEqual(other.get("/api/session").json()["name"], "ben")
        self.ben.delete()
        self.assertEqual(other.get("/api/documents").status_code, 401)

    def test_a_copied_cookie_ends_with_its_session(self) -> None:
        client, copied, elsewhere = Client(), Client(), Client()
        for one in (client, elsewhere):
            one.post("/api/session", {"name": "ada", "password": "kites-up-high"}, content_type="application/json")
        copied.cookies = client.cookies.copy()
        self.assertEqual(copied.get("/api/documents").status_code, 200)
        client.delete("/api/session/elsewhere")
        self.assertEqual([c.get("/api/documents").status_code for c in (client, elsewhere)], [200, 401])
        client.delete("/api/session")
        self.assertEqual(copied.get("/api/documents").status_code, 401)

    def test_guessing_passwords_is_refused_before_they_are_looked_at(self) -> None:
        client = Client()
        for n in range(8):
            sent = client.post(
                "/api/session", {"name": "ada", "password": f"guess {n}"}, content_type="application/json"
            )
        with patch("django.contrib.auth.base_user.check_password", side_effect=AssertionError("looked at")):
            sent = client.post(
                "/api/session", {"name": "ada", "password": "kites-up-high"}, content_type="application/json"
            )
        self.assertEqual(sent.status_code, 429)
        self.assertIn("too many tries", sent.json()["message"])
        ben = client.post(
            "/api/session", {"name": "ben", "password": "kites-down-low"}, content_type="application/json"
        )
        self.assertEqual(ben.status_code, 200, "others come in")

    def test_trying_many_names_from_one_address_is_refused_too(self) -> None:
        client = Client()

        def tried(name: str, password: str) -> Any:
            body = {"name": name, "password": password}
            return client.post("/api/session", body, content_type="application/json")

        with patch("people.sessions.MOST_OF_AN_ADDRESS", 5):
            for n in range(5):
                self.assertEqual(tried(f"somebody {n}", "guess").status_code, 401)
            refused = tried("ben", "kites-down-low")
            self.assertEqual(refused.status_code, 429)
            self.assertIn("this address", refused.json()["message"])
            AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(minutes=11))
            self.assertEqual(tried("ben", "kites-down-low").status_code, 200)

    def test_what_cannot_be_kept_or_is_too_large_is_said(self) -> None:
        id = self.new()
        edit = {"base": 1, "operations": [put(["title"], "Kites")], "label": "Rename"}
        for body, said in (
            (json.dumps({**edit, "label": "a\0b"}), "U+0000"),
            (json.dumps({**edit, "operations": [put(["title"], "a\0b")]}), "U+0000"),
            (json.dumps(edit).replace("Kites", "\\ud800"), "not JSON"),
            (json.dumps(edit).replace('"Kites"', "9" * 5000), "not JSON"),
            ("[" * 5000 + "]" * 5000, "not JSON"),
            ("{", "not JSON"),
        ):
            sent = self.client.post(f"/api/documents/{id}/edits", body, content_type="application/json")
            self.assertEqual(sent.status_code, 400, body[:50])
            self.assertIn(said, sent.json()["message"])
        sent = self.client.post(
            "/api/session", json.dumps({"name": "a\0", "password": "b"}), content_type="application/json"
        )
        self.assertEqual(sent.status_code, 400)
        large = self.client.post(
            f"/api/documents/{id}/edits", "{}", content_type="application/json", CONTENT_LENGTH="900000000"
        )
        self.assertEqual(large.status_code, 413)
        self.assertIn("900 MB", large.json()["message"])

    def test_the_page_takes_scripts_and_styles_from_here_alone(self) -> None:
        headers = self.client.get("/api/session").headers
        policy = headers["Content-Security-Policy"]
        self.assertNotIn("unsafe-inline", policy.replace("style-src-attr 'unsafe-inline'", ""))
        self.assertIn("default-src 'self'", policy)
        for name, said in (
            ("X-Frame-Options", "DENY"),
            ("Cross-Origin-Opener-Policy", "same-origin"),
            ("Cross-Origin-Resource-Policy", "same-origin"),
        ):
            self.assertEqual(headers[name], said)
        self.assertIn("camera=()", headers["Permissions-Policy"])

    def test_deployed_settings_pass_djangos_own_check(self) -> None:
        found = subprocess.run(
            [sys.executable, "manage.py", "check", "--deploy", "--fail-level", "WARNING"],
            cwd=Path(__file__).resolve().parents[1],
            env={
                **{name: value for name, value in os.environ.items() if name != "DJANGO_ALLOW_ASYNC_UNSAFE"},
                "NEST_TLS": "1",
                "NEST_SECRET": secrets.token_urlsafe(54),
            },
            capture_output=True,
            text=True,
        )
        self.assertEqual(found.returncode, 0, found.stderr)

    def test_whether_it_is_well(self) -> None:
        self.assertEqual(Client().get("/healthz").status_code, 200)
        self.assertEqual(Client().get("/readyz").status_code, 200)
        with patch("doors.health.connection.cursor", side_effect=OperationalError("away")):
            self.assertEqual(Client().get("/readyz").status_code, 503)
        with patch("people.signing._users", side_effect=OperationalError("away")):
            answer = self.client.get("/api/documents")
        self.assertEqual((answer.status_code, answer["Retry-After"]), (503, "2"))
        self.assertIn("database", answer.json()["message"])

    def test_the_user_behind_a_session_is_the_one_that_django_finds(self) -> None:
        for user in (self.ada, self.ben):
            found, plain = Backend().get_user(user.pk), get_user_model().objects.get(pk=user.pk)
            self.assertEqual({**vars(found), "_state": 0}, {**vars(plain), "_state": 0})
            self.assertFalse(found._state.adding)

    def test_other_sites_cannot_act(self) -> None:
        client = Client(enforce_csrf_checks=True)
        client.force_login(self.ada)
        self.assertEqual(
            client.post("/api/documents", {"title": "X"}, content_type="application/json").status_code, 403
        )
        self.assertEqual(
            client.post(
                "/api/session", {"name": "ada", "password": "kites-up-high"}, content_type="application/json"
            ).status_code,
            403,
        )


class CompiledQueries(ApiCase):
    def test_numbers_go_where_the_query_wants_them(self) -> None:
        def between(least: int, greatest: int) -> Any:
            return (
                get_user_model().objects.filter(pk__lte=greatest, pk__gte=least).order_by("pk").values_list("username")
            )

        people = Compiled(between, int, int)
        low, high = sorted((self.ada.pk, self.ben.pk))
        for asked in ((low, high), (low, low), (high, high), (high, low), (high + 1, high + 5)):
            self.assertEqual(people(*asked), list(between(*asked)), asked)

    def test_words_and_times_go_in_beside_what_the_query_names_itself(self) -> None:
        def named(name: str, joined: datetime) -> Any:
            people = get_user_model().objects.filter(is_active=True, username=name, date_joined__lt=joined)
            return people.values_list("pk", "username")

        compiled = Compiled(named, str, datetime)
        for name in ("ada", "ben", "nobody", "stands in for 0"):
            for when in (datetime(2000, 1, 1, tzinfo=UTC), datetime(2100, 1, 1, tzinfo=UTC)):
                self.assertEqual(compiled(name, when), list(named(name, when)), (name, when))


class Rows(ApiCase):
    def test_rows_hold_what_the_document_is_after_any_edits(self) -> None:
        """Paragraphs that changed are written one by one, where they are few; whatever was changed, the rows say the
        same."""
        dice = thrown(8)
        path = ["copies", "a", "versions", "en", "paragraphs"]
        paragraphs = [{"runs": [{"text": f"Word {n} of “it” \\ 'so'"}]} for n in range(12)]
        copies = {"a": {"versions": {v: {"language": v, "paragraphs": paragraphs} for v in ("en", "de")}}}
        row = create(self.ada.id, {**raw(), "copies": {**raw()["copies"], **copies}})
        for number in range(60):
            count = len(Copy.objects.get(document=row, name="a", version="en").paragraphs)
            operations: list[dict[str, Any]] = []
            for _ in range(dice.choice((1, 1, 2, 7))):
                text = dice.choice(["", "x", "Größe {0} %s", "null", "\u2028", "{}"]) + str(number)
                operations.append(put([*path, dice.randrange(count), "runs"], [{"text": text}]))
            if dice.random() < 0.2:
                at, removed = dice.randrange(count), dice.randint(0, 1)
                operations.append(
                    {"do": "splice", "at": path, "from": at, "remove": removed, "insert": [{"runs": [{"text": "New"}]}]}
                )
            if dice.random() < 0.2:
                operations.append(put(["copies", "a", "versions", "en", "language"], dice.choice(["en", "fr"])))
            if dice.random() < 0.2:
                operations.append(put(["title"], f"Title {number}"))
            state = make_edit(self.ada.id, row.id, Wanted(row.revision + number, operations)).after
            stored = raw_of(Document.objects.get(id=row.id))
            self.assertEqual(stored, state.raw, number)


class Documents(ApiCase):
    def test_only_the_owner_reaches_a_document(self) -> None:
        id = self.new()
        other = Client()
        other.force_login(self.ben)
        for method, path in [("get", ""), ("delete", ""), ("get", "/pdf"), ("get", "/json"), ("get", "/picture.png")]:
            self.assertEqual(getattr(other, method)(f"/api/documents/{id}{path}").status_code, 404, path)
        for path in ("edits", "preview", "undo", "redo"):
            body = json.dumps({"base": 1, "operations": [put(["title"], "Mine")]})
            self.assertEqual(
                other.post(f"/api/documents/{id}/{path}", body, content_type="application/json").status_code, 404
            )
        self.assertEqual(other.post(f"/api/documents/{id}/restore").status_code, 404)
        self.assertEqual(other.get("/api/documents").json(), {"documents": []})

    def test_create_rename_delete_and_bring_back(self) -> None:
        made = self.send("/api/documents", {"title": "Poster", "width": "297mm", "height": "420mm"}).json()
        self.assertAlmostEqual(made["width"], 297 * 72 / 25.4)
        renamed = self.client.patch(
            f"/api/documents/{made['id']}", json.dumps({"title": "Kite poster"}), content_type="application/json"
        )
        self.assertEqual(renamed.json()["title"], "Kite poster")
        self.client.delete(f"/api/documents/{made['id']}")
        self.assertEqual(self.client.get("/api/documents").json()["documents"], [])
        self.assertEqual(self.client.get(f"/api/documents/{made['id']}").status_code, 404)
        self.client.post(f"/api/documents/{made['id']}/restore")
        self.assertEqual(self.client.get("/api/documents").json()["documents"][0]["title"], "Kite poster")

    def test_a_size_that_is_none_is_refused(self) -> None:
        sent = self.send("/api/documents", {"title": "Poster", "width": "wide"})
        self.assertEqual((sent.status_code, sent.json()["path"]), (400, "$.pages[0].width"))

    def test_every_document_has_a_picture(self) -> None:
        got = self.client.get(f"/api/documents/{self.new()}/picture.png")
        self.assertEqual(got["Content-Type"], "image/png")
        self.assertEqual(got.content[:4], b"\x89PNG")


class LargeDocuments(ApiCase):
    """A document that no process has nested yet shows its first page before the others."""

    def eight_pages(self) -> int:
        pages = [
            {**raw()["pages"][0], "objects": [{**t, "id": f"{t['id']}{n}"} for t in raw()["pages"][0]["objects"]]}
            for n in range(8)
        ]
        return self.bring(raw(pages=pages)).json()["id"]

    def first(self, id: int) -> Any:
        return self.client.get(f"/api/documents/{id}?first=true").json()

    def test_the_first_page_comes_alone_and_then_all(self) -> None:
        id = self.eight_pages()
        self.open(id)
        self.assertTrue(self.first(id)["complete"], "what is known is not held back")
        store._states.clear()
        begun = self.first(id)
        self.assertFalse(begun["complete"])
        self.assertEqual(len(begun["scene"]["pages"]), 8)
        self.assertEqual(list(begun["scene"]["nests"]), ["f0"])
        self.assertEqual(set(begun["scene"]["objects"]), {"f0", "w0"})
        self.assertEqual([len(page["order"]) for page in begun["scene"]["pages"]], [2, *[0] * 7])
        self.assertEqual(len(begun["document"]["pages"]), 8)
        every = self.open(id)
        self.assertTrue(every["complete"])
        self.assertEqual(set(every["scene"]["nests"]), {f"f{n}" for n in range(8)})
        self.assertEqual(every["scene"]["nests"]["f0"], begun["scene"]["nests"]["f0"])
        self.assertEqual(every["revision"], begun["revision"])

    def test_a_small_one_comes_whole_and_edits_wait_for_the_rest(self) -> None:
        small, id = self.new(), self.eight_pages()
        store._states.clear()
        self.assertTrue(self.first(small)["complete"])
        begun = self.first(id)
        done = self.edit(id, begun["revision"], put(["objects", "w5", "x"], 60)).json()
        self.assertEqual(list(done["scene"]["nests"]), ["f5"])
        self.assertEqual(self.client.get(f"/api/documents/{id}/picture.png").content[:4], b"\x89PNG")

    def test_a_letter_in_a_large_document_is_answered_where_it_is_seen_and_the_rest_follows(self) -> None:
        id = self.eight_pages()
        opened = self.open(id)
        self.assertTrue(opened["shown"])
        text = ["copies", "story", "versions", "en", "paragraphs", 0, "runs", 0, "text"]
        typed = self.edit(id, 1, put(text, "Kites over the hill"), seen=[2, 3], shown=opened["shown"]).json()
        self.assertFalse(typed["complete"])
        self.assertEqual(list(typed["scene"]["nests"]), ["f2", "f3"])
        self.assertEqual(typed["scene"]["pages"], [None] * 8)
        self.assertEqual((typed["document"], typed["operations"]), ({"gone": []}, [put(text, "Kites over the hill")]))
        again = self.edit(id, 2, put(text, "Kites over the lake"), seen=[2, 3], shown=typed["shown"]).json()
        self.assertEqual(list(again["scene"]["nests"]), ["f2", "f3"])
        rest = self.client.get(f"/api/documents/{id}/rest?shown={again['shown']}").json()
        self.assertEqual(set(rest["scene"]["nests"]), {f"f{n}" for n in range(8)} - {"f2", "f3"})
        whole = self.open(id)
        nests = {**opened["scene"]["nests"], **again["scene"]["nests"], **rest["scene"]["nests"]}
        self.assertEqual(nests, whole["scene"]["nests"])
        # A window that shows what this process does not know gets all there is.
        store._sent.clear()
        lost = self.edit(id, 3, put(text, "Kites"), seen=[0], shown=rest["shown"]).json()
        self.assertEqual(set(lost["scene"]["nests"]), {f"f{n}" for n in range(8)})
        moved = self.edit(id, 4, put(["objects", "w5", "x"], 60), seen=[0], shown=lost["shown"]).json()
        self.assertTrue(moved["complete"], "what moves is worked out whole")
        back = self.send(f"/api/documents/{id}/undo", {"base": 5, "shown": moved["shown"]}).json()
        self.assertEqual(list(back["scene"]["nests"]), ["f5"])
        tried = self.send(f"/api/documents/{id}/preview", {"base": 6, "operations": [put(text, "On")]}).json()
        self.assertEqual(len(tried["nests"]), 8)

    def test_few_large_documents_are_remembered_at_once(self) -> None:
        store._states.clear()
        with patch.object(store, "_MOST_PAGES", 3):
            small, other = self.new(), self.new()
            self.open(small), self.open(other)
            self.assertEqual(list(store._states), [small, other])
            large = self.bring(raw(pages=[{"width": 300, "height": 300, "objects": []}] * 4)).json()["id"]
            self.open(large)
            self.assertEqual(list(store._states), [large])
            self.assertEqual(self.open(small)["revision"], 1)
            self.assertEqual(list(store._states), [small])

    def test_a_preview_is_of_this_revision_and_this_user(self) -> None:
        id = self.eight_pages()
        wanted = {"base": 1, "operations": [put(["objects", "w5", "x"], 60)]}
        self.assertEqual(list(self.send(f"/api/documents/{id}/preview", wanted).json()["nests"]), ["f5"])
        self.edit(id, 1, put(["title"], "Other"))
        self.assertEqual(self.send(f"/api/documents/{id}/preview", wanted).status_code, 409)
        other = Client()
        other.force_login(self.ben)
        body = json.dumps({**wanted, "base": 2})
        got = other.post(f"/api/documents/{id}/preview", body, content_type="application/json")
        self.assertEqual(got.status_code, 404)


class EditDoor(ApiCase):
    def test_an_edit_is_stored_nested_and_answered_with_what_changed(self) -> None:
        id = self.new()
        done = self.edit(id, 1, put(["objects", "w", "x"], 60), label="Move").json()
        self.assertEqual((done["revision"], done["undo"], done["redo"]), (2, "Move", None))
        self.assertEqual(list(done["scene"]["objects"]), ["w"])
        self.assertEqual(list(done["scene"]["nests"]), ["f"])
        self.assertEqual(done["scene"]["shapes"], {}, "the copy was not shaped again")
        self.assertEqual(self.open(id)["document"]["pages"][0]["objects"][1]["x"], 60)

    def test_a_preview_asks_the_database_three_things_and_an_edit_few_more(self) -> None:
        """The session, its user, and the revision with the fonts' mark: of one without fonts, too."""
        id = self.new()
        body = {"base": 1, "operations": [put(["objects", "w", "x"], 61)], "window": "w"}
        self.send(f"/api/documents/{id}/preview", body)
        with self.assertNumQueries(3):
            self.send(f"/api/documents/{id}/preview", {**body, "number": 1})
        self.edit(id, 1, put(["objects", "w", "x"], 62), join="x")
        with CaptureQueriesContext(connection) as asked:
            self.edit(id, 2, put(["objects", "w", "x"], 63), join="x")
        self.assertLessEqual(len(asked), 16)

    def test_a_far_object_nests_nothing(self) -> None:
        id = self.new()
        self.edit(id, 1, put(["objects", "w", "x"], 280))
        done = self.edit(id, 2, put(["objects", "w", "y"], 270)).json()
        self.assertEqual(done["scene"]["nests"], {})

    def test_undo_and_redo_are_stored_and_give_exactly_what_was(self) -> None:
        id = self.new()
        before = self.open(id)["document"]
        paragraphs = ["copies", "story", "versions", "en", "paragraphs"]
        self.edit(
            id, 1, {"do": "splice", "at": paragraphs, "from": 1, "remove": 0, "insert": story("No wind?")}, label="Type"
        )
        self.edit(id, 2, {"do": "splice", "at": ["pages", 0, "objects"], "from": 1, "remove": 1}, label="Delete")
        after = self.open(id)["document"]
        self.send(f"/api/documents/{id}/undo", {"base": 3})
        undone = self.send(f"/api/documents/{id}/undo", {"base": 4}).json()
        self.assertEqual((undone["undo"], undone["redo"]), (None, "Type"))
        self.assertEqual(self.open(id)["document"], before)
        self.send(f"/api/documents/{id}/redo", {"base": 5})
        self.send(f"/api/documents/{id}/redo", {"base": 6})
        self.assertEqual(self.open(id)["document"], after)
        refused = self.send(f"/api/documents/{id}/redo", {"base": 7})
        self.assertEqual((refused.status_code, refused.json()["message"]), (400, "there is nothing to redo"))

    def test_a_new_edit_ends_redo(self) -> None:
        id = self.new()
        self.edit(id, 1, put(["title"], "A"))
        self.send(f"/api/documents/{id}/undo", {"base": 2})
        self.assertIsNone(self.edit(id, 3, put(["title"], "B")).json()["redo"])

    @patch("documents.door.JOIN_WITHIN", timedelta(minutes=9))
    def test_typing_is_one_step(self) -> None:
        id = self.new()
        at = ["copies", "story", "versions", "en", "paragraphs"]
        for n, text in enumerate(("K", "Ki", "Kit", "Kite")):
            self.edit(
                id,
                1 + n,
                {"do": "splice", "at": at, "from": 0, "remove": 1, "insert": story(text)},
                label="Type",
                join="typing:story",
            )
        self.assertEqual(Edit.objects.filter(document_id=id).count(), 1)
        self.send(f"/api/documents/{id}/undo", {"base": 5})
        self.assertEqual(self.open(id)["document"], {**raw(), "title": "Flyer"})

    @patch("documents.door.JOIN_WITHIN", timedelta(minutes=9))
    def test_letters_typed_in_one_place_are_stored_once(self) -> None:
        id = self.new()
        before = self.open(id)["document"]
        at = ["copies", "story", "versions", "en", "paragraphs", 0, "runs"]
        for n in range(1, 9):
            self.edit(id, n, put(at, [{"text": "Bring string"[:n]}]), label="Type", join="typing:story")
        self.edit(id, 9, put([*at[:5], 0, "align"], "center"), label="Type", join="typing:story")
        self.edit(id, 10, put(at, [{"text": "Bring"}]), label="Type", join="typing:story")
        (kept,) = Edit.objects.filter(document_id=id)
        self.assertEqual([o["value"] for o in kept.operations], [[{"text": "Bring st"}], "center", [{"text": "Bring"}]])
        after = self.open(id)["document"]
        self.send(f"/api/documents/{id}/undo", {"base": 11})
        self.assertEqual(self.open(id)["document"], before)
        self.send(f"/api/documents/{id}/redo", {"base": 12})
        self.assertEqual(self.open(id)["document"], after)

    def test_copy_given_and_typed_in_one_step_is_undone_and_made_again(self) -> None:
        id = self.new()
        before = self.open(id)["document"]
        side = ["copies", "side"]
        given = [
            put(side, {"versions": {"en": {"paragraphs": story("K")}}}),
            put(["objects", "w", "frame"], {"copy": "side"}),
        ]
        self.edit(id, 1, *given, join="typing:side")
        at = [*side, "versions", "en", "paragraphs"]
        self.edit(
            id, 2, {"do": "splice", "at": at, "from": 0, "remove": 1, "insert": story("Kite")}, join="typing:side"
        )
        after = self.open(id)["document"]
        self.assertEqual(self.send(f"/api/documents/{id}/undo", {"base": 3}).status_code, 200)
        from documents import store

        store._states.clear()
        self.assertEqual(self.open(id)["document"], before)
        self.assertEqual(self.send(f"/api/documents/{id}/redo", {"base": 4}).status_code, 200)
        store._states.clear()
        redone = self.open(id)["document"]
        self.assertEqual(
            redone["copies"]["side"]["versions"]["en"]["paragraphs"],
            after["copies"]["side"]["versions"]["en"]["paragraphs"],
        )

    def test_two_windows_never_overwrite_each_other_silently(self) -> None:
        id = self.new()
        self.edit(id, 1, put(["objects", "f", "x"], 30))
        late = self.edit(id, 1, put(["objects", "f", "x"], 40))
        self.assertEqual(late.status_code, 409)
        self.assertIn("another window", late.json()["message"])
        self.assertEqual(self.open(id)["document"]["pages"][0]["objects"][0]["x"], 30)
        self.assertEqual(
            self.send(f"/api/documents/{id}/tries", {"base": 1, "object": "f", "kind": "room"}).status_code, 409
        )

    def test_what_is_not_valid_changes_nothing(self) -> None:
        id = self.new()
        for operation in (
            put(["objects", "f", "width"], "wide"),
            put(["objects", "f", "frame", "columns"], 0),
            put(["objects", "f", "id"], "w"),
            put(["objects", "f", "picture"], {"file": "pictures/none.png"}),
            put(["format"], "other"),
            put(["pages"], []),
            put(["objects", "nobody", "x"], 1),
            {"do": "splice", "at": ["pages"], "from": 0, "remove": 1},
            put(["colors"], {"x": "red"}),
            put(["copies", "story"], None),
            put(["copies", "story", "versions", "en", "paragraphs", 0, "font"], "Quarrow Sans"),
        ):
            sent = self.edit(id, 1, operation)
            self.assertEqual(sent.status_code, 400, operation)
            self.assertNotIn("\n", sent.json()["message"])
        self.assertEqual(self.open(id)["revision"], 1)
        self.assertFalse(Edit.objects.filter(document_id=id).exists())

    def test_rows_hold_what_the_document_says_after_any_kind_of_edit(self) -> None:
        id = self.new()
        operations = [
            put(["styles"], {"Body": {"size": 9}}),
            put(["copies", "side"], {"versions": {"en": {"paragraphs": story("Hum")}}}),
            put(["objects", "w", "frame"], {"copy": "side"}),
            put(["pages", 0, "background"], "#ffeedd"),
            put(["copies", "story", "versions", "de"], {"language": "de", "paragraphs": story("Drachen")}),
            {"do": "cut", "at": ["objects", "w", "frame"]},
            {"do": "cut", "at": ["copies", "side"]},
        ]
        for n, operation in enumerate(operations):
            self.assertEqual(self.edit(id, 1 + n, operation).status_code, 200, operation)
        from documents import store

        kept = store.state_of(Document.objects.get(id=id)).raw
        store._states.clear()
        self.assertEqual(self.open(id)["document"], json.loads(json.dumps(kept)))

    def test_too_many_operations_are_refused(self) -> None:
        id = self.new()
        self.assertEqual(self.edit(id, 1).status_code, 400)
        self.assertEqual(self.edit(id, 1, *[put(["title"], "A")] * 2001).status_code, 400)


class Previews(ApiCase):
    def test_a_preview_shows_and_stores_nothing(self) -> None:
        id = self.new()
        shown = self.send(
            f"/api/documents/{id}/preview", {"base": 1, "operations": [put(["objects", "w", "x"], 60)]}
        ).json()
        made = self.edit(id, 1, put(["objects", "w", "x"], 60)).json()["scene"]
        self.assertEqual(shown, made, "what is tried is what is made")
        self.send(f"/api/documents/{id}/preview", {"base": 2, "operations": [put(["objects", "w", "x"], 0)]})
        self.assertEqual(self.open(id)["document"]["pages"][0]["objects"][1]["x"], 60)

    def test_a_preview_of_what_is_not_valid_says_so(self) -> None:
        sent = self.send(
            f"/api/documents/{self.new()}/preview",
            {"base": 1, "operations": [put(["objects", "f", "frame", "padding"], "12 apples")]},
        )
        self.assertEqual(sent.status_code, 400)
        self.assertIn("write for example", sent.json()["message"])


class Pictures(ApiCase):
    def upload(self, content: bytes, name: str = "kite.png") -> Any:
        return self.client.post("/api/pictures", {"file": SimpleUploadedFile(name, content)})

    def test_a_picture_is_kept_once_and_served_to_its_owner(self) -> None:
        content = draw()["pictures/delta-kite.png"]
        first, second = self.upload(content).json(), self.upload(content, "again.png").json()
        self.assertEqual(first["file"], second["file"])
        self.assertTrue(first["transparent"])
        self.assertEqual(b"".join(self.client.get(first["url"]).streaming_content), content)
        self.client.force_login(self.ben)
        self.assertEqual(self.client.get(first["url"]).status_code, 404)

    def test_files_are_known_by_content_not_by_name(self) -> None:
        for content, name in [
            (b"<script>alert(1)</script>", "kite.png"),
            (b"", "kite.jpg"),
            (b"\x89PNG\r\n\x1a\n", "kite.png"),
        ]:
            sent = self.upload(content, name)
            self.assertEqual(sent.status_code, 400)
            self.assertIn("PNG, JPEG and WebP", sent.json()["message"])
        self.assertFalse(Picture.objects.exists())

    def test_names_cannot_leave_their_folder(self) -> None:
        self.assertRegex(
            self.upload(draw()["pictures/tower.png"], "../../etc/passwd").json()["file"],
            r"^pictures/passwd-[0-9a-f]{16}\.png$",
        )

    def test_a_picture_of_another_user_cannot_be_placed(self) -> None:
        file = self.upload(draw()["pictures/tower.png"]).json()["file"]
        self.client.force_login(self.ben)
        sent = self.edit(self.new(), 1, put(["objects", "w", "picture"], {"file": file}))
        self.assertEqual(sent.status_code, 400)
        self.assertIn("no picture", sent.json()["message"])


class Exchange(ApiCase):
    def test_json_out_and_in_again_is_the_same_document(self) -> None:
        out = json.loads(self.client.get(f"/api/documents/{self.new()}/json").content)
        self.assertEqual(out, raw())
        self.assertEqual(self.open(self.bring(out).json()["id"])["document"], out)

    def test_a_zip_carries_the_pictures_to_another_user(self) -> None:
        with_picture = raw()
        with_picture["pages"][0]["objects"][1]["picture"] = {"file": "pictures/delta.png"}
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as archive:
            archive.writestr("flyer/document.json", json.dumps(with_picture))
            archive.writestr("flyer/pictures/delta.png", draw()["pictures/delta-kite.png"])
        id = self.bring(out.getvalue(), "flyer.zip").json()["id"]
        again = self.client.get(f"/api/documents/{id}/zip").content
        self.client.force_login(self.ben)
        self.assertEqual(self.bring(again, "flyer.zip").status_code, 200)
        # Its name is the same with every user that it comes to.
        self.client.force_login(self.ben)
        names = set()
        for who in (self.ben, self.ada, self.ben):
            self.client.force_login(who)
            brought = self.bring(again, "flyer.zip").json()["id"]
            names |= {
                t["picture"]["file"] for t in self.open(brought)["document"]["pages"][0]["objects"] if "picture" in t
            }
            again = self.client.get(f"/api/documents/{brought}/zip").content
        self.assertEqual(len(names), 1, names)

    def test_what_cannot_be_read_is_refused_and_nothing_is_kept(self) -> None:
        missing = raw()
        missing["pages"][0]["objects"][1]["picture"] = {"file": "pictures/none.png"}
        for content, said in [
            (b"hello", "not JSON"),
            (b"{}", "not a Nest Line document"),
            (b"PK\x03\x04junk", "damaged"),
            (b"[" * 100_000, "JSON"),
            (json.dumps(missing).encode(), "no picture"),
            (json.dumps(raw(chains=[["f", "nowhere"]])).encode(), "no frame"),
            (b"\xff\xfe\x00", "JSON"),
        ]:
            sent = self.bring(content)
            self.assertEqual(sent.status_code, 400, content[:30])
            self.assertIn(said, sent.json()["message"])
        self.assertFalse(Document.objects.exists())

    def test_path_data_without_a_box_gets_its_objects_size(self) -> None:
        document = raw()
        document["pages"][0]["objects"][0]["outline"] = {"kind": "path", "d": "M0 0H200V200Z"}
        outline = self.open(self.bring(document).json()["id"])["document"]["pages"][0]["objects"][0]["outline"]
        self.assertEqual(outline["box"], [200, 200])

    def test_the_pdf_is_the_one_that_set_writes(self) -> None:
        from nestline.studio import Studio

        id = self.new()
        got = self.client.get(f"/api/documents/{id}/pdf")
        self.assertEqual(got["Content-Disposition"], 'attachment; filename="flyer.pdf"')
        own = Studio(lambda file: (_ for _ in ()).throw(AssertionError(file)))
        self.assertEqual(got.content, own.pdf(own.read(raw())))


class Demo(ApiCase):
    def test_a_page_goes_out_as_a_picture_or_as_svg(self) -> None:
        document = self.new()
        for kind, begins in (("png", b"\x89PNG"), ("webp", b"RIFF"), ("svg", b"<?xml"), ("svg?letters=text", b"<?xml")):
            answer = self.client.get(f"/api/documents/{document}/{kind}")
            self.assertEqual(answer.status_code, 200, kind)
            self.assertTrue(answer.content.startswith(begins), kind)
            self.assertIn(f'.{kind.partition("?")[0]}"', answer["Content-Disposition"])
        for wrong in ("png?page=2", "png?dpi=2400000", "svg?page=0", "webp?dpi=1"):
            answer = self.client.get(f"/api/documents/{document}/{wrong}")
            self.assertEqual(answer.status_code, 400, wrong)
            self.assertTrue(answer.json()["message"])

    def test_a_fault_nobody_foresaw_is_said_with_its_place_in_the_log_and_changes_nothing(self) -> None:
        document = self.new()
        before = Document.objects.get(id=document).revision
        operations = [{"do": "act", "act": "take-copy", "given": {"object": "f"}}]
        with patch("documents.door.expanded", side_effect=ZeroDivisionError("nobody foresaw")):
            with self.assertLogs("nestline", "ERROR") as logged:
                answer = self.client.post(
                    f"/api/documents/{document}/edits",
                    {"base": before, "operations": operations, "label": "Take the copy out", "join": ""},
                    content_type="application/json",
                )
        self.assertEqual(answer.status_code, 500)
        reference = answer.json()["message"].rstrip(".").split()[-1]
        self.assertIn(reference, logged.output[0])
        self.assertIn("take-copy", logged.output[0])
        self.assertIn("nobody foresaw", logged.output[0])
        self.assertEqual(Document.objects.get(id=document).revision, before)

    def test_lengths_are_read_as_the_core_reads_them(self) -> None:
        texts = ["1cm", "1p6", "8 + 2mm", "1.5em", "none"]
        answer = self.client.post("/api/lengths", {"texts": texts, "em": 10}, content_type="application/json").json()
        found = answer["points"]
        self.assertEqual([None if v is None else round(v, 4) for v in found], [28.3465, 18, 13.6693, 15, None])

    def test_the_demo_loads_twice_and_leaves_nothing_over(self) -> None:
        from django.core.management import call_command

        for _ in range(2):
            call_command("load_demo", stdout=io.StringIO())
        designer = get_user_model().objects.get(username="designer")
        self.client.force_login(designer)
        documents = self.client.get("/api/documents").json()["documents"]
        self.assertEqual(
            [d["title"] for d in documents],
            ["Quarrowby Kite Day, poster", "Kite Day, flyer", "Ticket screens", "Workshop sheet"],
        )
        for document in documents:
            nests = self.open(document["id"])["scene"]["nests"]
            self.assertTrue(nests)
            # The workshop sheet has too much copy on purpose, rows of the ticket screens end with an ellipsis.
            over = {"Workshop sheet": {"over"}, "Ticket screens": {"row12", "row16"}}.get(document["title"], set())
            self.assertEqual({n["id"] for n in nests.values() if n["leftover"] or n["broken"]}, over)


class Tracing(ApiCase):
    def steps(self, id: int, contour: dict[str, Any], object_id: str = "w") -> list[dict[str, Any]]:
        sent = self.send(f"/api/documents/{id}/trace", {"object": object_id, "contour": contour})
        self.assertEqual(sent.status_code, 200)
        return [json.loads(line) for line in b"".join(sent.streaming_content).splitlines()]

    def with_picture(self) -> int:
        upload = SimpleUploadedFile("box.jpg", draw()["pictures/box-kite-on-white.jpg"])
        file = self.client.post("/api/pictures", {"file": upload}).json()["file"]
        document = raw()
        document["pages"][0]["objects"][1] |= {"picture": {"file": file}, "wrap": {"by": "outline"}}
        return self.bring(document).json()["id"]

    def test_it_tells_how_far_it_has_come_and_is_kept_with_the_picture(self) -> None:
        id = self.with_picture()
        # At a threshold of its own: what other tests have traced is known.
        steps = self.steps(id, {"from": "plain", "threshold": 0.47})
        self.assertEqual([s["share"] for s in steps], sorted(s["share"] for s in steps))
        self.assertGreater(len(steps), 3)
        self.assertEqual((steps[-1]["done"], steps[-1]["fault"]), (True, None))
        self.assertEqual(len(self.steps(id, {"from": "plain", "threshold": 0.47})), 2)  # known already
        made = self.edit(
            id,
            1,
            put(["objects", "w", "contour"], {"from": "plain", "smoothness": 0.3}),
            put(["objects", "w", "wrap"], {"by": "contour"}),
        )
        contour = made.json()["scene"]["objects"]["w"]["contour"]
        self.assertIsNone(contour["fault"])
        self.assertLess(contour["points"], 80)

    def test_what_cannot_be_found_is_said_and_nothing_changes(self) -> None:
        id = self.with_picture()
        self.assertIn("no transparency", self.steps(id, {"from": "alpha"})[-1]["fault"])
        self.assertEqual(self.send(f"/api/documents/{id}/trace", {"object": "nothing", "contour": {}}).status_code, 400)
        self.assertEqual(self.open(id)["revision"], 1)

    def test_a_mask_goes_with_the_document_to_another_user(self) -> None:
        id = self.with_picture()
        upload = SimpleUploadedFile("mask.png", draw()["pictures/cloud.png"])
        mask = self.client.post("/api/pictures", {"file": upload}).json()["file"]
        self.edit(
            id,
            1,
            put(["objects", "w", "contour"], {"from": "mask", "mask": mask}),
            put(["objects", "w", "wrap"], {"by": "contour"}),
        )
        archive = self.client.get(f"/api/documents/{id}/zip").content
        self.client.force_login(self.ben)
        brought = self.bring(archive, "flyer.zip")
        self.assertEqual(brought.status_code, 200, brought.content)
        self.assertIsNone(self.open(brought.json()["id"])["scene"]["objects"]["w"]["contour"]["fault"])


class Why(ApiCase):
    def test_causes_are_told_with_their_control(self) -> None:
        id = self.new()
        found = self.send(f"/api/documents/{id}/why", {"page": 0, "at": [62, 110]}).json()
        self.assertEqual(found["frame"], "f")
        self.assertTrue(all(cause["rule"] and cause["said"] for cause in found["causes"]))
        self.assertEqual(
            self.send(f"/api/documents/{id}/why", {"page": 0, "at": [9000, 9000]}).json(), {"frame": None, "causes": []}
        )


class Findings(ApiCase):
    def test_they_are_told_mended_set_aside_and_nobody_elses(self) -> None:
        id = self.new()
        path = f"/api/documents/{id}/findings"
        before = self.client.get(path).json()
        self.assertEqual(before["revision"], self.open(id)["revision"])
        faults = lambda: [f for f in self.client.get(path).json()["findings"] if f["fault"] and not f["neverMind"]]  # noqa: E731
        self.assertEqual(faults(), [])
        lid = {"id": "lid", "x": 0, "y": 0, "width": 500, "height": 700, "fill": {"color": "#ffffff"}}
        splice = {"do": "splice", "at": ["pages", 0, "objects"], "from": 1, "remove": 0, "insert": [lid]}
        made = self.edit(id, before["revision"], splice)
        self.assertEqual(made.status_code, 200, made.content)
        one = next(f for f in faults() if f["kind"] == "hidden")
        self.assertTrue(one["hasCures"] and one["marks"])
        asked = {name: one[name] for name in ("kind", "object", "page", "range")}
        cures = self.send(f"/api/documents/{id}/cures", {"base": before["revision"] + 1, **asked}).json()
        self.assertTrue(cures[0]["mends"])
        self.edit(id, before["revision"] + 1, *cures[0]["operations"])
        self.assertEqual([f for f in faults() if f["kind"] == "hidden"], [])
        aside = put(["findings"], {"never_mind": [{"kind": "hidden"}]})
        self.edit(id, before["revision"] + 2, aside)
        self.client.force_login(self.ben)
        self.assertEqual(self.client.get(path).status_code, 404)
        self.assertEqual(self.send(f"/api/documents/{id}/cures", {"base": 1, **asked}).status_code, 404)


class Strain(ApiCase):
    def test_it_is_previewed_and_nothing_is_stored(self) -> None:
        id = self.new()
        before = self.open(id)
        operations = self.send(f"/api/documents/{id}/strain", {"by": 60}).json()["operations"]
        self.assertTrue(operations)
        seen = self.send(f"/api/documents/{id}/preview", {"base": before["revision"], "operations": operations})
        self.assertEqual(seen.status_code, 200, seen.content)
        self.assertEqual(self.open(id)["document"], before["document"])
        for by in (-51, 201, "much"):
            self.assertIn(self.send(f"/api/documents/{id}/strain", {"by": by}).status_code, (400, 422))
        picture = self.client.get(f"/api/documents/{id}/strain/pictures")
        self.assertEqual((picture.status_code, picture.content[:4]), (200, b"\x89PNG"))
        more = {"type": 20, "sheet": ["148mm", "210mm"], "pictures": False}
        operations = self.send(f"/api/documents/{id}/strain", more).json()["operations"]
        self.assertIn("148mm", [o.get("value") for o in operations])
        self.assertEqual(self.open(id)["document"], before["document"])
        frames = self.send(f"/api/documents/{id}/holds", {}).json()
        self.assertEqual({f["object"] for f in frames}, {"f"})
        self.client.force_login(self.ben)
        for path in ("strain", "holds"):
            self.assertEqual(self.send(f"/api/documents/{id}/{path}", {"by": 5}).status_code, 404)
        self.assertEqual(self.client.get(f"/api/documents/{id}/strain/pictures").status_code, 404)


class Shelf(ApiCase):
    def test_pictures_are_searched_and_taken(self) -> None:
        from assets.shelf import fill_shelf
        from demo.pictures import SHELF

        fill_shelf([(file, title, words, draw()[f"pictures/{file}"]) for file, title, words, _ in SHELF[:4]])
        titles = lambda search: [p["title"] for p in self.client.get("/api/shelf", {"search": search}).json()]  # noqa: E731
        self.assertEqual(len(titles("")), 4)
        self.assertEqual(titles("kite drag"), ["Dragon kite"])
        self.assertEqual(titles("zebra"), [])
        self.assertEqual(self.client.get("/api/shelf/box-kite.png/small").status_code, 200)
        taken = self.client.post("/api/shelf/box-kite.png")
        self.assertEqual(taken.json()["transparent"], True)
        self.assertIn(self.client.post("/api/shelf/..%2Findex.json").status_code, (400, 404))
        self.assertEqual(self.client.post("/api/shelf/none.png").status_code, 400)


class Fonts(ApiCase):
    def test_a_font_is_checked_kept_for_its_owner_and_used(self) -> None:
        from io import BytesIO

        from fontTools.ttLib import TTFont

        from nestline.fonts.library import SHIPPED

        font = TTFont(SHIPPED / "Lato-Regular.ttf")
        for record in font["name"].names:
            if record.nameID in (1, 16):
                record.string = "Quarrow Sans"
        out = BytesIO()
        font.save(out)
        self.assertEqual(self.upload_font(out.getvalue()).json(), ["Quarrow Sans"])
        faces = {f["family"]: f for f in self.client.get("/api/fonts").json()}
        self.assertTrue(faces["Quarrow Sans"]["own"])
        self.assertEqual(self.client.get(faces["Quarrow Sans"]["url"]).status_code, 200)
        small = self.client.get("/api/fonts/EBGaramond-Regular/file?features=smcp")
        self.assertEqual(small.status_code, 200)
        other = Client()
        other.force_login(self.ben)
        self.assertNotIn("Quarrow Sans", [f["family"] for f in other.get("/api/fonts").json()])
        self.assertEqual(other.get(faces["Quarrow Sans"]["url"]).status_code, 400)

    def test_a_variable_font_stays_one_and_takes_the_place_of_its_weights(self) -> None:
        from demo.variable_font import FAMILY, variable_font

        for _ in range(2):
            self.assertEqual(self.upload_font(variable_font()).json(), [FAMILY])
        (face,) = [f for f in self.client.get("/api/fonts").json() if f["family"] == FAMILY]
        self.assertEqual(face["weights"], {"least": 300, "greatest": 800})
        self.assertEqual(face["widths"], {"least": 75, "greatest": 125})
        lato = [f for f in self.client.get("/api/fonts").json() if f["family"] == "Lato"]
        self.assertEqual({f["weights"] for f in lato}, {None})

    def test_what_is_no_font_is_refused(self) -> None:
        for content in (b"no font", b"OTTO" + bytes(200)):
            answer = self.upload_font(content)
            self.assertEqual(answer.status_code, 400)
            self.assertTrue(answer.json()["message"])

    def test_a_font_with_broken_tables_is_tried_before_it_is_kept(self) -> None:

        from fontTools.ttLib import TTFont

        from nestline.fonts.library import SHIPPED

        font = TTFont(SHIPPED / "Lato-Regular.ttf")
        for record in font["name"].names:
            if record.nameID in (1, 16):
                record.string = "Quarrow Sans"
        out = io.BytesIO()
        font.save(out)
        sound = out.getvalue()
        head, kept = 400, 0
        for seed in seeds(6):
            dice = random.Random(seed)
            broken = bytearray(sound)
            for _ in range(dice.choice([1, 4, 30])):
                broken[dice.randrange(head, len(broken))] = dice.randrange(256)
            answer = self.upload_font(bytes(broken))
            self.assertIn(answer.status_code, (200, 400), answer.content)
            if answer.status_code != 200:
                continue
            # What was kept can be used for all that a font is for.
            kept += 1
            (family,) = answer.json()
            for face in self.client.get("/api/fonts").json():
                if face["own"]:
                    self.assertEqual(self.client.get(face["url"]).status_code, 200)
            document = raw()
            document["copies"]["story"]["versions"]["en"]["paragraphs"][0]["font"] = family
            id = self.bring(document).json()["id"]
            for kind in ("pdf", "svg", "svg?letters=text", "png", "picture.png"):
                self.assertEqual(self.client.get(f"/api/documents/{id}/{kind}").status_code, 200, kind)
        self.assertGreater(kept, 0)

    def upload_font(self, content: bytes) -> Any:
        return self.client.post("/api/fonts", {"file": SimpleUploadedFile("a.ttf", content)})

    def test_a_document_is_edited_in_a_font_brought_while_it_was_open(self) -> None:
        from io import BytesIO

        from fontTools.ttLib import TTFont

        from nestline.fonts.library import SHIPPED

        id = self.new()
        self.open(id)
        font = TTFont(SHIPPED / "Oswald-Regular.ttf")
        for record in font["name"].names:
            if record.nameID in (1, 16):
                record.string = "Quarrow Narrow"
        out = BytesIO()
        font.save(out)
        self.upload_font(out.getvalue())
        paragraph = ["copies", "story", "versions", "en", "paragraphs", 0]
        answer = self.edit(id, 1, put([*paragraph, "font"], "Quarrow Narrow"))
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(self.client.delete("/api/fonts/Quarrow Narrow").status_code, 400)


class Acts(ApiCase):
    def test_an_act_is_stored_as_what_it_comes_to_and_undone(self) -> None:
        id = self.new()
        before = self.open(id)["document"]
        act = {"do": "act", "act": "duplicate", "given": {"objects": ["f"], "ids": ["g"]}}
        self.assertEqual(self.edit(id, 1, act).status_code, 200)
        stored = Edit.objects.get(document_id=id).operations
        self.assertEqual({o["do"] for o in stored}, {"put", "splice"})
        self.assertEqual(self.send(f"/api/documents/{id}/undo", {"base": 2}).status_code, 200)
        self.assertEqual(self.open(id)["document"], before)

    def test_an_act_with_nothing_to_do_changes_nothing(self) -> None:
        id = self.new()
        act = {"do": "act", "act": "restack", "given": {"object": "w", "above": "w"}}
        answer = self.edit(id, 1, act)
        self.assertEqual((answer.status_code, answer.json()["revision"]), (200, 1))
        self.assertFalse(Edit.objects.filter(document_id=id).exists())

    def test_an_act_can_be_previewed_and_refused(self) -> None:
        id = self.new()
        act = {"do": "act", "act": "combine", "given": {"objects": ["f", "w"], "how": "union"}}
        self.assertEqual(self.send(f"/api/documents/{id}/preview", {"base": 1, "operations": [act]}).status_code, 200)
        for bad in (
            {"do": "act", "act": "fly"},
            {"do": "act", "act": "combine", "given": {"objects": ["f"], "how": "x"}},
            {"do": "act", "act": "place", "given": {"object": "f", "field": "x", "value": "a little to the left"}},
        ):
            answer = self.edit(id, 1, bad)
            self.assertEqual(answer.status_code, 400)
            self.assertTrue(answer.json()["message"])
        self.assertEqual(self.open(id)["revision"], 1)


class Recipes(ApiCase):
    RULES = {"frame": {"padding": 9}, "fill": {"color": "straw"}}

    def names(self, answer: Any) -> dict[str, bool]:
        self.assertEqual(answer.status_code, 200, answer.content)
        return {r["name"]: r["own"] for r in answer.json()}

    def test_a_library_holds_what_ships_and_ones_own(self) -> None:
        self.assertEqual(len(self.names(self.client.get("/api/recipes"))), 7)
        answer = self.send("/api/recipes", {"name": "Mine", "rules": self.RULES, "colors": {"straw": "#f4e9d8"}})
        self.assertTrue(self.names(answer)["Mine"])
        kept = next(r for r in answer.json() if r["name"] == "Mine")
        self.assertEqual(kept["rules"]["fill"], {"color": "#f4e9d8"}, "colours go along as figures")

    def test_what_is_no_recipe_is_refused_and_nothing_is_kept(self) -> None:
        for rules in (
            {"frame": {"padding": "wide"}},
            {"fill": {"color": "unknown"}},
            {"outline": {}},
            {"frame": {"copy": "x"}},
        ):
            answer = self.send("/api/recipes", {"name": "Mine", "rules": rules})
            self.assertEqual(answer.status_code, 400, rules)
            self.assertTrue(answer.json()["message"])
        self.assertNotIn("Mine", self.names(self.client.get("/api/recipes")))

    def test_one_recipe_at_most_is_for_new_frames(self) -> None:
        for name in ("Badge", "Caption", None):
            answer = self.send("/api/recipes/for-new-frames", {"name": name})
            self.assertEqual([r["name"] for r in answer.json() if r["for_new_frames"]], [name] if name else [])
        self.assertEqual(self.send("/api/recipes/for-new-frames", {"name": "None such"}).status_code, 400)

    def test_files_of_recipes_come_in_whole_or_not_at_all(self) -> None:
        def bring(content: bytes) -> Any:
            return self.client.post("/api/recipes/import", {"file": SimpleUploadedFile("recipes.json", content)})

        good = {"format": "nest-line-recipes", "version": 1, "recipes": {"Mine": {"frame": {"sit": "middle"}}}}
        self.assertIn("Mine", self.names(bring(json.dumps(good).encode())))
        self.assertEqual(json.loads(self.client.get("/api/recipes/library.json").content)["recipes"], good["recipes"])
        bad = {"recipes": {"Fine": {"frame": {}}, "Bad": {"frame": {"sit": "sideways"}}}}
        for content in (b"{", b"[]", b'{"recipes": {}}', b'{"recipes": {"x": 3}}', json.dumps(bad).encode()):
            self.assertEqual(bring(content).status_code, 400, content)
        self.assertNotIn("Fine", self.names(self.client.get("/api/recipes")))

    def test_a_library_is_ones_own(self) -> None:
        self.send("/api/recipes", {"name": "Mine", "rules": {"frame": {}}})
        self.client.force_login(get_user_model().objects.get(username="ben"))
        self.assertNotIn("Mine", self.names(self.client.get("/api/recipes")))
