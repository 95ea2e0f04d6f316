"""Jobs: worked out apart, cancelled, taken up again after a kill, never done twice."""

from __future__ import annotations

import io
import json
import tempfile
import time
import zipfile
from datetime import timedelta
from pathlib import Path
from threading import Thread
from typing import Any
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client, TransactionTestCase, override_settings
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from assets import media
from documents import jobs
from documents.models import Document, Job
from documents.routes import contours, documents
from documents.store import create
from nestline.errors import NestLineError
from tests.live import Worker
from tests.test_api import raw

MEDIA = tempfile.TemporaryDirectory()
STORY = "Bring string, bring friends, bring whatever you built at the kitchen table. "


def many_pages(count: int, words: int = 40) -> dict[str, Any]:
    copies, pages = {}, []
    for n in range(count):
        paragraphs = [{"runs": [{"text": f"{n} {STORY * (words // 12)}"}]}]
        copies[f"c{n}"] = {"versions": {"en": {"language": "en", "paragraphs": paragraphs}}}
        frame = {"copy": f"c{n}"}
        pages.append(
            {
                "width": 400,
                "height": 600,
                "objects": [{"id": f"f{n}", "x": 20, "y": 20, "width": 360, "height": 500, "frame": frame}],
            }
        )
    return {"format": "nest-line", "version": 1, "title": "Many pages", "copies": copies, "pages": pages}


@override_settings(MEDIA_ROOT=Path(MEDIA.name))
class Jobs(TransactionTestCase):
    def setUp(self) -> None:
        self.user = get_user_model().objects.create_user("ada", password="kites-up-high")
        self.client.force_login(self.user)

    def send(self, path: str, body: Any = None) -> Any:
        return self.client.post(path, json.dumps(body), content_type="application/json")

    def asked(self, row: Document, kind: str = "pdf", **more: Any) -> dict[str, Any]:
        answer: dict[str, Any] = self.send(f"/api/documents/{row.id}/exports", {"kind": kind, **more}).json()
        return answer

    def bring(self, content: bytes) -> Any:
        return self.client.post("/api/documents/import", {"file": SimpleUploadedFile("many.json", content)})

    def job(self, id: int) -> Any:
        return self.client.get(f"/api/jobs/{id}").json()

    def until(self, id: int, *states: str) -> Any:
        for _ in range(600):
            found = self.job(id)
            if found["state"] in states:
                return found
            time.sleep(0.05)
        self.fail(f"still {found}")

    def test_a_small_file_is_had_at_once_and_a_large_one_is_a_job_of_its_owner(self) -> None:
        small, large = create(self.user.id, raw()), create(self.user.id, many_pages(8))
        url = self.asked(small)["url"]
        self.assertEqual(self.client.get(url).content[:5], b"%PDF-")
        job = self.asked(large)["job"]
        self.assertEqual((job["state"], job["url"]), ("waiting", None))
        self.assertTrue(ProcrastinateJob.objects.filter(task_name="run_job", args={"job_id": job["id"]}).exists())
        jobs.work(job["id"])
        done = self.job(job["id"])
        self.assertEqual((done["state"], done["share"], done["name"]), ("done", 1, "many-pages.pdf"))
        answer = self.client.get(done["url"])
        content = b"".join(answer.streaming_content)
        self.assertEqual((content[:5], len(content)), (b"%PDF-", done["size"]))
        self.assertIn("many-pages.pdf", answer["Content-Disposition"])
        other = Client()
        other.force_login(get_user_model().objects.create_user("ben"))
        for path in ("", "/result"):
            self.assertEqual(other.get(f"/api/jobs/{job['id']}{path}").status_code, 404)
        self.assertEqual(other.delete(f"/api/jobs/{job['id']}").status_code, 404)
        self.assertEqual(other.get("/api/jobs").json(), [])
        self.assertEqual([j["id"] for j in self.client.get("/api/jobs").json()], [job["id"]])

    def test_large_pictures_and_archives_are_jobs_too(self) -> None:
        row = create(self.user.id, raw())
        self.assertIsNotNone(self.asked(row, "png", dpi=2000)["job"])
        self.assertIsNone(self.asked(row, "png", dpi=150)["job"])
        self.assertIsNone(self.asked(row, "zip")["job"])
        with patch("documents.exports.LARGE_BYTES", -1):
            self.assertIsNotNone(self.asked(row, "zip")["job"])

    def test_what_cannot_be_done_is_said_in_words(self) -> None:
        row = create(self.user.id, many_pages(8))
        job = self.asked(row, "png", page=9)["job"]
        jobs.work(job["id"])
        failed = self.job(job["id"])
        self.assertEqual((failed["state"], failed["said"]), ("failed", "there is no page 9"))
        with patch.object(documents, "LARGE_IMPORT", 0):
            broken = self.bring(b'{"format": "nest-line", "version": 1, "pages": []}').json()
        jobs.work(broken["id"])
        self.assertEqual(self.job(broken["id"])["state"], "failed")
        self.assertEqual(self.job(broken["id"])["path"], "$.pages")
        with patch.object(jobs, "MOST_WAITING", 1):
            self.asked(row)
            refused = self.send(f"/api/documents/{row.id}/exports", {"kind": "pdf"})
        self.assertEqual(refused.status_code, 400)
        self.assertIn("already", refused.json()["message"])

    def test_an_import_is_made_once_however_often_it_is_taken_up(self) -> None:
        with patch.object(documents, "LARGE_IMPORT", 0):
            answer = self.bring(json.dumps(many_pages(2)).encode())
        self.assertEqual(answer.status_code, 202)
        for _ in range(3):
            jobs.work(answer.json()["id"])
        self.assertEqual(Document.objects.count(), 1)
        self.assertEqual(self.job(answer.json()["id"])["document"], Document.objects.get().id)

    def test_one_that_is_cancelled_leaves_nothing(self) -> None:
        with patch.object(documents, "LARGE_IMPORT", 0):
            job = self.bring(json.dumps(many_pages(2)).encode()).json()
        found = Job.objects.get(id=job["id"])
        self.assertTrue(media.is_kept(jobs.file_of(found, "upload")))
        self.assertEqual(self.client.delete(f"/api/jobs/{job['id']}").json()["state"], "cancelled")
        jobs.work(job["id"])
        self.assertEqual((Document.objects.count(), self.job(job["id"])["state"]), (0, "cancelled"))
        self.assertFalse(media.is_kept(f"jobs/{found.id}"))
        # In the middle of it, too: what it would have made is taken back.
        with patch.object(documents, "LARGE_IMPORT", 0):
            job = self.bring(json.dumps(many_pages(2)).encode()).json()

        def cancelled(raw: Any) -> None:
            """By another connection, as the window does it."""

            def cancel() -> None:
                jobs.cancel(Job.objects.get(id=job["id"]))
                connection.close()

            thread = Thread(target=cancel)
            thread.start()
            thread.join()

        with patch("documents.exchange._with_boxes", cancelled):
            jobs.work(job["id"])
        self.assertEqual((Document.objects.count(), self.job(job["id"])["state"]), (0, "cancelled"))

    def test_results_are_kept_for_a_week(self) -> None:
        row = create(self.user.id, many_pages(8))
        kept, old = (self.asked(row)["job"]["id"] for _ in range(2))
        for id in (kept, old):
            jobs.work(id)
        file = jobs.file_of(Job.objects.get(id=old), "result")
        self.assertTrue(media.is_kept(file))
        Job.objects.filter(id=old).update(made=timezone.now() - timedelta(days=8))
        Job.objects.filter(id=kept).update(made=timezone.now() - timedelta(days=6))
        jobs.clear_old()
        self.assertEqual([j["id"] for j in self.client.get("/api/jobs").json()], [kept])
        self.assertFalse(media.is_kept(file))
        self.assertEqual(self.client.get(f"/api/jobs/{old}/result").status_code, 404)

    def test_a_contour_of_a_large_picture_is_traced_apart(self) -> None:
        from assets.store import keep_picture
        from benchmarks.large import drawn_picture

        picture = keep_picture(self.user.id, "disc.jpg", drawn_picture(1))
        thing = {"id": "p", "x": 10, "y": 10, "width": 160, "height": 120, "picture": {"file": picture.file}}
        row = create(self.user.id, {**raw(), "pages": [{"width": 300, "height": 300, "objects": [thing]}]})

        def at_once(owner_id: int, kind: str, given: Any, document: Any = None, upload: Any = None) -> Job:
            job = Job.objects.create(owner_id=owner_id, kind=kind, given=given, document=document)
            jobs.work(job.id)
            return job

        with patch.object(contours, "LARGE_PICTURE", 1), patch.object(jobs, "begin", at_once):
            answer = self.send(f"/api/documents/{row.id}/trace", {"object": "p", "contour": {"from": "plain"}})
            steps = [json.loads(line) for line in b"".join(answer.streaming_content).splitlines()]
        self.assertEqual((steps[-1]["done"], steps[-1]["fault"]), (True, None))
        self.assertEqual(Job.objects.get().state, "done")
        beside = [name for name in media.names("pictures") if name.endswith(".contour")]
        self.assertTrue(beside and beside[0].startswith(picture.kept), "it is kept with its picture")

    def test_a_killed_worker_is_followed_by_another_and_one_that_runs_is_ended(self) -> None:
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w") as archive:
            archive.writestr("document.json", json.dumps(many_pages(60, 400)))
        with patch.object(documents, "LARGE_IMPORT", 0):
            job = self.bring(packed.getvalue()).json()
        with Worker() as first:
            self.until(job["id"], "running")
            first.kill()
        self.assertEqual(Document.objects.count(), 0)
        with Worker():
            done = self.until(job["id"], "done")
            self.assertEqual([row.id for row in Document.objects.all()], [done["document"]])
            export = self.asked(Document.objects.get())["job"]
            self.until(export["id"], "running")
            self.assertEqual(self.client.delete(f"/api/jobs/{export['id']}").json()["state"], "cancelled")
            after = self.asked(Document.objects.get(), "json")
            self.assertIsNone(after["job"])
            other = self.asked(Document.objects.get(), "png")["job"]
            self.assertEqual(self.until(other["id"], "done")["name"], "many-pages-1.png")
        self.assertEqual(self.job(export["id"])["state"], "cancelled")
        self.assertFalse(media.is_kept(f"jobs/{export['id']}"))

    def test_a_job_that_takes_too_long_is_stopped(self) -> None:
        row = create(self.user.id, many_pages(8))
        job = self.asked(row)["job"]
        with patch.object(jobs, "SECONDS", 0.0), patch.object(jobs, "LOOK", 0.001):
            jobs.run(job["id"])
        failed = self.job(job["id"])
        self.assertEqual(failed["state"], "failed")
        self.assertIn("was stopped", failed["said"])

    def test_a_fault_nobody_foresaw_is_said_and_logged(self) -> None:
        job = self.asked(create(self.user.id, many_pages(8)))["job"]
        with patch.dict(jobs.KINDS, export=lambda job, tell: [][0]), self.assertLogs("nestline", "ERROR"):
            jobs.work(job["id"])
        self.assertIn("should not have", self.job(job["id"])["said"])
        job = self.asked(Document.objects.get())["job"]

        def too_much(job: Job, tell: Any) -> None:
            raise MemoryError

        with patch.dict(jobs.KINDS, export=too_much):
            jobs.work(job["id"])
        self.assertIn("memory", self.job(job["id"])["said"])
        self.assertRaises(NestLineError, jobs._done, Job.objects.get(id=job["id"]))
