"""Every refusal of the API has one form: problem details (RFC 9457, application/problem+json)."""

from __future__ import annotations

import json
from http import HTTPStatus
from typing import Any
from unittest import mock

from django.contrib.auth import get_user_model
from django.test import Client, TestCase

from config.urls import api
from doors.errors import CODES, described
from nestline.acts.acting import ActError
from nestline.fonts.library import FontError


class Problems(TestCase):
    def setUp(self) -> None:
        self.user = get_user_model().objects.create_user("ada", password="kites-up-high")
        self.client.force_login(self.user)

    def problem(self, answer: Any, status: int, code: str) -> dict[str, Any]:
        self.assertEqual(answer.status_code, status, answer.content)
        self.assertEqual(answer["Content-Type"], "application/problem+json")
        said: dict[str, Any] = json.loads(answer.content)
        self.assertEqual(set(said), {"type", "title", "status", "detail", "code", "message", "path", "collisions"})
        self.assertEqual((said["status"], said["code"]), (status, code))
        self.assertEqual(said["title"], HTTPStatus(status).phrase)
        self.assertEqual(said["detail"], said["message"])
        self.assertGreater(len(said["message"]), 8)
        return said

    def test_what_is_not_there_and_what_is_asked_wrongly(self) -> None:
        self.problem(self.client.get("/api/documents/999999"), 404, "not-there")
        self.problem(self.client.get("/api/nowhere/at/all"), 404, "not-there")
        wrong = self.client.delete("/api/documents")
        self.problem(wrong, 405, "wrong-method")
        self.assertIn("GET", wrong["Allow"])

    def test_who_is_not_signed_in_and_who_comes_from_elsewhere(self) -> None:
        self.problem(Client().get("/api/documents"), 401, "signed-out")
        wrong = Client().post("/api/session", {"name": "ada", "password": "x"}, content_type="application/json")
        self.problem(wrong, 401, "signed-out")
        strict = Client(enforce_csrf_checks=True)
        strict.force_login(self.user)
        self.problem(strict.post("/api/documents", {}, content_type="application/json"), 403, "stale-page")

    def test_what_is_not_valid_names_its_field(self) -> None:
        wrong = self.client.post("/api/documents", {"title": ["a"]}, content_type="application/json")
        self.assertTrue(self.problem(wrong, 422, "not-valid")["path"].startswith("$."))
        self.problem(self.client.post("/api/documents", "{", content_type="application/json"), 400, "cannot")

    def test_a_fault_that_nobody_foresaw(self) -> None:
        with mock.patch("documents.routes.documents.Document.objects", None), self.assertLogs("nestline", "ERROR"):
            self.problem(self.client.get("/api/documents"), 500, "fault")

    def test_the_core_says_its_kind(self) -> None:
        self.assertEqual(FontError("Gull", ["Lato"]).family, "Gull")
        self.assertEqual((FontError.code, ActError.code), ("font", "act"))

    def test_every_operation_says_so(self) -> None:
        schema = described(api.get_openapi_schema())
        looked_at = 0
        for path, operations in schema["paths"].items():
            for method, operation in operations.items():
                with self.subTest(path=path, method=method):
                    answers = operation["responses"]
                    for status in (one for one in answers if one == "default" or int(one) >= 400):
                        looked_at += 1
                        self.assertEqual(
                            answers[status]["content"],
                            {"application/problem+json": {"schema": {"$ref": "#/components/schemas/ErrorOut"}}},
                        )
                    self.assertIn("default", answers)
        self.assertGreater(looked_at, 150)
        self.assertEqual(CODES[404], "not-there")
