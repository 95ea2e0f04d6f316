"""Copy over the API: sent out, looked at as it comes home, taken; the stand-in for a desk as a job."""

from __future__ import annotations

import base64
import io
import json
import tempfile
import zipfile
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.test import Client, TransactionTestCase, override_settings

from desk.translating import translate
from documents import jobs
from documents.models import Document
from documents.store import create, raw_of
from nestline.errors import NestLineError

MEDIA = tempfile.TemporaryDirectory()
TEXTS = ["Kite Day", "Bring string, bring friends.", "12.50"]


def labels() -> dict[str, Any]:
    paragraphs = [{"runs": [{"text": text}]} for text in TEXTS]
    paragraphs[1]["runs"].append({"text": " And a reel.", "weight": 700})
    thing = {"id": "f", "x": 20, "y": 20, "width": 130, "height": 60, "frame": {"copy": "Label"}}
    copies = {"Label": {"versions": {"en": {"language": "en", "paragraphs": paragraphs}}}}
    pages = [{"width": 400, "height": 300, "objects": [thing]}]
    return {"format": "nest-line", "version": 1, "title": "Labels", "unit": "px", "copies": copies, "pages": pages}


@override_settings(MEDIA_ROOT=Path(MEDIA.name))
class Translations(TransactionTestCase):
    def setUp(self) -> None:
        self.user = get_user_model().objects.create_user("ada", password="kites-up-high")
        self.client.force_login(self.user)
        self.row = create(self.user.id, labels())
        self.at = f"/api/documents/{self.row.id}"

    def send(self, path: str, body: Any) -> Any:
        return self.client.post(f"{self.at}/{path}", json.dumps(body), content_type="application/json")

    def out(self, form: str, **query: str) -> Any:
        return self.client.get(f"{self.at}/translations/out/{form}", {"source": "en", "target": "de", **query})

    def versions(self) -> Any:
        return self.client.get(f"{self.at}/translations").json()

    def home(self, content: bytes, name: str = "de.xlf") -> Any:
        return self.send("translations/home", {"name": name, "content": base64.b64encode(content).decode()})

    def take(self, content: bytes, **more: Any) -> Any:
        given = {"content": base64.b64encode(content).decode(), **more}
        operations = [{"do": "act", "act": "take-translation", "given": given}]
        revision = Document.objects.get(id=self.row.id).revision
        return self.send("edits", {"base": revision, "operations": operations, "label": "Take a translation"})

    def stored(self) -> Any:
        return raw_of(Document.objects.get(id=self.row.id))["copies"]["Label"]["versions"]

    def test_out_to_a_desk_home_looked_at_taken_and_stale_when_the_source_changes(self) -> None:
        before = Document.objects.get(id=self.row.id).revision
        with zipfile.ZipFile(io.BytesIO(self.out("xliff").content)) as archive:
            self.assertEqual(archive.namelist(), ["labels-de.xlf", "frames/1-kite-day-bring-string-bring.png"])
            made = translate(archive.read("labels-de.xlf"))
        looked = self.home(made).json()
        self.assertEqual((looked["version"], looked["language"]), ("de", "de"))
        # Figures come home as they went out, and are taken so.
        self.assertEqual([c["source"] for c in looked["changes"]], ["Kite Day", f"{TEXTS[1]} And a reel.", "12.50"])
        self.assertTrue(any("left over" in one for one in looked["told"]), looked["told"])
        self.assertEqual(Document.objects.get(id=self.row.id).revision, before)  # nothing is changed by looking
        self.assertEqual(self.take(made, only=["Label/0", "Label/1"]).status_code, 200)
        there = self.stored()["de"]
        self.assertEqual([r.get("weight") for r in there["paragraphs"][1]["runs"]], [None, 700])
        self.assertEqual(there["source"]["version"], "en")
        self.assertEqual(raw_of(Document.objects.get(id=self.row.id))["showing"], "de")
        self.assertEqual(
            self.versions(), [{"version": "de", "language": "de", "source": "en", "new": 0, "stale": 0, "done": 3}]
        )
        put = {
            "do": "put",
            "at": ["copies", "Label", "versions", "en", "paragraphs", 0, "runs"],
            "value": [{"text": "Kite Night"}],
        }
        self.send("edits", {"base": before + 1, "operations": [put], "label": "Write"})
        self.assertEqual(self.versions()[0]["stale"], 1)
        found = [f for f in self.client.get(f"{self.at}/findings").json()["findings"] if f["kind"] == "stale"]
        self.assertEqual(len(found), 1)
        self.assertIn("“Kite Day”, which says “Kite Night” now", found[0]["message"])
        only = {"kind": "stale", "object": "f", "page": 0, "range": found[0]["range"]}
        (cure,) = self.send("cures", {**only, "base": before + 2}).json()
        self.assertTrue(cure["mends"])
        new = self.out("csv", what="new").content.decode("utf-8-sig")
        self.assertEqual(len(new.strip().splitlines()), 2)
        self.assertIn("was: Kite Day", new)
        self.send("edits", {"base": before + 2, "operations": cure["operations"], "label": "Right"})
        self.assertEqual(self.versions()[0]["stale"], 0)
        nothing = self.out("csv", what="new")
        self.assertEqual((nothing.status_code, "nothing is new" in nothing.json()["message"]), (400, True))

    def test_a_translation_is_one_step_and_is_kept_over_a_restart(self) -> None:
        with zipfile.ZipFile(io.BytesIO(self.out("xliff").content)) as archive:
            made = translate(archive.read("labels-de.xlf"))
        self.take(made)
        source = self.stored()["de"]["source"]
        from documents import store

        store._states.clear()
        self.assertEqual(self.stored()["de"]["source"], source)
        self.assertEqual(self.versions()[0]["done"], 3)
        self.client.post(f"{self.at}/undo", json.dumps({"base": 2}), content_type="application/json")
        self.assertNotIn("de", self.stored())

    def test_what_is_no_translation_is_refused_in_words_and_nobody_else_sees_it(self) -> None:
        for content, said in ((b"<a/>", "not XLIFF"), (b"", "columns"), (b"PK\x03\x04", "not whole")):
            answer = self.home(content)
            self.assertEqual(answer.status_code, 400, content)
            self.assertTrue(said in answer.json()["message"] or "whole" in answer.json()["message"], answer.json())
        self.assertEqual(self.send("translations/home", {"content": "%"}).status_code, 400)
        self.assertEqual(self.out("xliff", source="xx").status_code, 400)
        self.assertEqual(self.out("xliff", target="en").status_code, 400)
        other = Client()
        other.force_login(get_user_model().objects.create_user("ben"))
        for path in ("translations", "translations/out/csv?source=en&target=de"):
            self.assertEqual(other.get(f"{self.at}/{path}").status_code, 404)
        for path in ("translations/home", "translations/desk"):
            body = {"content": "", "source": "en", "target": "de"}
            answer = other.post(f"{self.at}/{path}", json.dumps(body), content_type="application/json")
            self.assertEqual(answer.status_code, 404)

    def test_the_desk_is_a_job_that_is_had_fails_or_is_cancelled(self) -> None:
        given = {"source": "en", "target": "fi", "language": "fi", "seconds": 0}
        job = self.send("translations/desk", given).json()
        jobs.work(job["id"])
        done = self.client.get(f"/api/jobs/{job['id']}").json()
        self.assertEqual((done["state"], done["name"]), ("done", "fi.xlf"))
        content = b"".join(self.client.get(done["url"]).streaming_content)
        self.assertEqual(self.home(content).json()["version"], "fi")
        failing = self.send("translations/desk", {**given, "fails": True}).json()
        jobs.work(failing["id"])
        said = self.client.get(f"/api/jobs/{failing['id']}").json()
        self.assertEqual(said["state"], "failed")
        self.assertIn("gave up after 1 of 3", said["said"])
        gone = self.send("translations/desk", given).json()
        self.client.delete(f"/api/jobs/{gone['id']}")
        jobs.work(gone["id"])
        self.assertEqual(self.client.get(f"/api/jobs/{gone['id']}").json()["state"], "cancelled")
        self.assertEqual(self.send("translations/desk", {**given, "source": "xx"}).status_code, 400)
        self.assertNotIn("fi", self.stored())

    def test_the_desk_fails_in_the_middle_and_its_words_are_longer(self) -> None:
        with zipfile.ZipFile(io.BytesIO(self.out("xliff").content)) as archive:
            sent = archive.read("labels-de.xlf")
        with self.assertRaises(NestLineError):
            translate(sent, fails=True)
        changes = self.home(translate(sent)).json()["changes"]
        words = [c for c in changes if any(letter.isalpha() for letter in c["source"])]
        self.assertTrue(all(len(c["after"]) > len(c["source"]) for c in words), words)
        self.assertEqual([c["after"] for c in changes if c["source"] == "12.50"], ["12.50"])
