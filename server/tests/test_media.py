"""Files that are kept, in a folder and in a store that speaks S3 (moto's): the same holds in both."""

from __future__ import annotations

import json
import random
import tempfile
from pathlib import Path
from typing import Any
from unittest.mock import patch

import boto3
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import SimpleTestCase, TestCase, override_settings
from moto import mock_aws

from assets import media
from assets.models import Picture
from demo.pictures import draw
from documents import jobs
from documents.models import Job
from nestline.errors import NestLineError
from tests.live import free_port
from tests.test_api import raw

FOLDER = {"BACKEND": "assets.media.Folder", "OPTIONS": {"allow_overwrite": True}}


def shared(**more: Any) -> dict[str, Any]:
    options = {
        "bucket_name": "nest-line",
        "file_overwrite": True,
        "default_acl": None,
        "region_name": "us-east-1",
        "access_key": "tests",
        "secret_key": "tests",
        **more,
    }
    return {"BACKEND": "storages.backends.s3.S3Storage", "OPTIONS": options}


def stored(default: dict[str, Any]) -> Any:
    static = {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
    return override_settings(STORAGES={"default": default, "staticfiles": static})


class Kept:
    """Random keeping, putting and forgetting, beside a plain dict that does the same."""

    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))  # type: ignore[attr-defined]
        self.enterContext(override_settings(MEDIA_ROOT=self.folder))  # type: ignore[attr-defined]

    def test_what_is_kept_is_what_was_put_there(self) -> None:
        chance, plain = random.Random(5), dict[str, bytes]()
        names = [f"{folder}/{n:02x}/file{n}" for folder in ("pictures", "fonts") for n in range(6)]
        for turn in range(200):
            name, content = chance.choice(names), chance.randbytes(chance.randrange(0, 4000))
            deed = chance.choice(("keep", "put", "forget", "read", "here"))
            if deed == "keep":
                media.keep(name, content)
                plain.setdefault(name, content)
            elif deed == "put":
                media.forget(name)
                media.put(name, content)
                plain[name] = content
            elif deed == "forget":
                media.forget(name)
                plain.pop(name, None)
            elif name in plain:
                self.assertEqual(media.read(name), plain[name])  # type: ignore[attr-defined]
                with media.opened(name) as file:
                    self.assertEqual(file.read(), plain[name])  # type: ignore[attr-defined]
            else:
                with self.assertRaises(FileNotFoundError):  # type: ignore[attr-defined]
                    media.read(name)
            self.assertEqual(media.is_kept(name), name in plain)  # type: ignore[attr-defined]
            if turn % 20 == 0:
                found = sorted([*media.names("pictures"), *media.names("fonts")])
                self.assertEqual(found, sorted(plain))  # type: ignore[attr-defined]
        media.forget_folder("pictures")
        self.assertEqual(list(media.names("pictures")), [])  # type: ignore[attr-defined]
        self.assertEqual(list(media.names("nowhere")), [])  # type: ignore[attr-defined]

    def test_a_file_of_this_machine_has_the_content(self) -> None:
        self.assertIsNone(media.here("fonts/ab/own-ab.otf"))  # type: ignore[attr-defined]
        media.keep("fonts/ab/own-ab.otf", b"letters")
        for _ in range(2):
            path = media.here("fonts/ab/own-ab.otf")
            assert path is not None
            self.assertEqual((path.stem, path.read_bytes()), ("own-ab", b"letters"))  # type: ignore[attr-defined]


@stored(FOLDER)
class InAFolder(Kept, SimpleTestCase):
    def test_a_write_that_fails_leaves_what_was_there(self) -> None:
        media.put("shelf/index.json", b"old")
        with (
            patch("assets.media.os.replace", side_effect=OSError(28, "No space left on device")),
            self.assertRaisesRegex(NestLineError, "could not be kept: No space left"),
        ):
            media.put("shelf/index.json", b"new")
        self.assertEqual(media.read("shelf/index.json"), b"old")
        self.assertEqual([p.name for p in (self.folder / "shelf").iterdir()], ["index.json"])


@stored(shared())
class InAStore(Kept, SimpleTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.enterContext(mock_aws())
        boto3.client("s3", region_name="us-east-1").create_bucket(Bucket="nest-line")


class AwayFromTheStore(TestCase):
    """The store does not answer: that is said, nothing is changed, and a job is taken up again."""

    def setUp(self) -> None:
        from botocore.config import Config

        quick = Config(connect_timeout=1, retries={"max_attempts": 0})
        self.away = stored(shared(endpoint_url=f"http://127.0.0.1:{free_port()}", client_config=quick))
        self.enterContext(override_settings(MEDIA_ROOT=Path(self.enterContext(tempfile.TemporaryDirectory()))))
        self.user = get_user_model().objects.create_user("ada")
        self.client.force_login(self.user)

    def brought(self) -> Any:
        return self.client.post("/api/pictures", {"file": SimpleUploadedFile("k.png", draw()["pictures/box-kite.png"])})

    def test_a_picture_is_neither_kept_nor_lost(self) -> None:
        with self.away:
            answer = self.brought()
            self.assertEqual((answer.status_code, answer["Retry-After"]), (503, "2"))
            self.assertIn("cannot be reached just now; nothing was changed", answer.json()["message"])
            self.assertFalse(Picture.objects.exists())
        given = self.brought().json()
        with self.away:
            self.assertEqual(self.client.get(given["url"]).status_code, 503)
        self.assertEqual(self.client.get(given["url"]).status_code, 200)

    def test_a_job_is_taken_up_again(self) -> None:
        content = json.dumps(raw()).encode()
        job = Job.objects.create(owner=self.user, kind="import", given={"name": "sheet.json"})
        media.put(jobs.file_of(job, "upload"), content)
        with self.away, self.assertRaises(media.Away):
            jobs.work(job.id)
        job.refresh_from_db()
        self.assertIn(job.state, Job.OPEN)
        jobs.work(job.id)
        job.refresh_from_db()
        self.assertEqual(job.state, "done")
