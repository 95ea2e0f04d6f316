"""The API's reference: its examples are run, one after the other, and it names every operation and every field."""

from __future__ import annotations

import json
import re
import tempfile
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase, override_settings

from config.urls import api
from demo.pictures import draw
from doors.examples import EXAMPLES, Example

MEDIA = tempfile.TemporaryDirectory()


def filled(value: Any, known: dict[str, Any]) -> Any:
    """With what earlier answers held."""
    if isinstance(value, str):
        if whole := re.fullmatch(r"\{(\w+)\}", value):
            return known[whole[1]]
        return re.sub(r"\{(\w+)\}", lambda found: str(known[found[1]]), value)
    if isinstance(value, dict):
        return {key: filled(one, known) for key, one in value.items()}
    return [filled(one, known) for one in value] if isinstance(value, list) else value


@override_settings(MEDIA_ROOT=Path(MEDIA.name))
class Reference(TestCase):
    def asked(self, example: Example, known: dict[str, Any]) -> Any:
        path, given = filled(example.path, known), filled(example.given, known)
        if example.file:
            content = draw()[f"pictures/{example.file}"]
            return self.client.post(path, {"file": SimpleUploadedFile(example.file, content)})
        if example.method == "GET":
            return self.client.get(path)
        return self.client.generic(example.method, path, json.dumps(given), content_type="application/json")

    def holds(self, whole: Any, part: Any, where: str) -> None:
        if isinstance(part, dict):
            for key, value in part.items():
                self.assertIn(key, whole, where)
                self.holds(whole[key], value, f"{where}.{key}")
        else:
            self.assertEqual(whole, part, where)

    def test_examples_are_answered_as_they_say(self) -> None:
        get_user_model().objects.create_user("designer", password="kite-day")
        known: dict[str, Any] = {}
        for example in EXAMPLES:
            with self.subTest(example.title):
                answer = self.asked(example, known)
                self.assertEqual(answer.status_code, example.status, answer.content[:400])
                found = answer.json()
                self.holds(found, example.answer or {}, example.title)
                known |= {name: found[at] for name, at in example.keeps.items()}

    def test_each_is_of_an_operation_that_there_is(self) -> None:
        paths = api.get_openapi_schema()["paths"]
        for example in EXAMPLES:
            self.assertIn(example.method.lower(), paths[example.operation])

    def test_the_page_names_every_operation_and_every_field(self) -> None:
        page = self.client.get("/api/reference").content.decode()
        text = re.sub(r"<[^>]+>", "", page)
        schema = api.get_openapi_schema()
        for path, operations in schema["paths"].items():
            for method, operation in operations.items():
                self.assertIn(f'id="{operation["operationId"]}"', page)
                self.assertIn(f"{method.upper()} {path}", text)
        for name, shape in schema["components"]["schemas"].items():
            self.assertIn(f'id="{name}"', page)
            for one in shape.get("properties", {}):
                self.assertIn(f">{one}<", page)
        for example in EXAMPLES:
            self.assertIn(example.title, page)
        self.assertNotIn("None", re.findall(r"\w+", text), "Python's words are not the API's")
        self.assertNotIn("`", text)
