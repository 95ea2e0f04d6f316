"""Requests made from the API's own schema (Schemathesis): whatever fits it, and what nearly does, is never a fault of
the server.

`NEST_FUZZ=10000` runs as many by hand; the suite runs 300.
"""

from __future__ import annotations

import json
import os
import random
import resource
import time
from pathlib import Path
from typing import Any
from unittest.mock import patch

import schemathesis
from django.conf import settings
from django.contrib.auth import get_user_model
from hypothesis import HealthCheck, Phase, given, seed
from hypothesis import settings as ways
from hypothesis import strategies as some
from hypothesis.errors import Unsatisfiable
from schemathesis import GenerationMode

from documents.models import Document, Job
from tests.test_api import ApiCase

CASES = int(os.environ.get("NEST_FUZZ", "300"))
ALLOWED = {200, 201, 202, 204, 400, 401, 403, 404, 405, 409, 413, 422, 429, 503}
"""What may come of any request; nothing else may."""
LEFT_OUT = {"/api/session", "/api/session/elsewhere", "/api/account/leave", "/api/account/password"}
"""Signing in and out, and leaving, would end what the others need."""


class Schema(ApiCase):
    def test_nothing_that_fits_the_schema_or_nearly_does_is_a_fault(self) -> None:
        api = schemathesis.openapi.from_dict(json.loads((Path(settings.ROOT) / "server/openapi.json").read_text()))
        document = self.new()
        job = Job.objects.create(owner=get_user_model().objects.get(username="ada"), kind="export", given={}).id
        self.slowest, self.counts = (0.0, ""), dict[int, int]()
        operations = [found.ok() for found in api.get_all_operations() if found.ok().path not in LEFT_OUT]
        each = max(1, CASES // len(operations))
        before = memory()
        for operation in operations:
            for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE):
                self.run_cases(operation, mode, max(1, each // 2), document, job)
        self.assertGreaterEqual(sum(self.counts.values()), CASES // 2)
        self.assertGreater(self.counts.get(200, 0), 0)
        if CASES > 300:
            took, what = self.slowest
            print(
                f"{sum(self.counts.values())} requests: {self.counts}; the slowest {took:.2f} s ({what}); "
                f"{memory() - before:.0f} MB more"
            )

    def run_cases(self, operation: Any, mode: GenerationMode, count: int, document: int, job: int) -> None:
        dice = random.Random(operation.label)
        try:
            strategy = operation.as_strategy(generation_mode=mode)
        except Exception:  # nothing can be wrong in an operation that takes nothing
            return

        @seed(1)
        @ways(
            max_examples=count,
            database=None,
            deadline=None,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        @given(case=strategy, own=some.integers(0, 9))
        def one(case: Any, own: int) -> None:
            # Mostly of what there is, so that more than the first check is tried.
            for name, there in (("document_id", document), ("job_id", job)):
                if own and name in (case.path_parameters or {}):
                    case.path_parameters[name] = there
            if own and isinstance(case.body, dict) and "base" in case.body:
                case.body["base"] = Document.objects.get(id=document).revision
            self.ask(operation, case, dice)

        try:
            one()
        except Unsatisfiable:  # nothing can be wrong in what it takes
            return

    def ask(self, operation: Any, case: Any, dice: random.Random) -> None:
        path = operation.path
        for name, value in (case.path_parameters or {}).items():
            path = path.replace(f"{{{name}}}", str(value))
        query = {k: str(v) for k, v in (case.query or {}).items()} if isinstance(case.query, dict) else {}
        body = case.body
        given: dict[str, Any] = {}
        if isinstance(body, (dict, list, str, int, float, bool)) or body is None:
            if case.media_type == "multipart/form-data":
                given = {"data": {k: _part(v) for k, v in body.items()} if isinstance(body, dict) else {}}
            elif case.media_type:
                try:
                    given = {"data": json.dumps(body), "content_type": "application/json"}
                except (TypeError, ValueError):
                    return
        from urllib.parse import quote, urlencode

        address = quote(path.replace("\r", "").replace("\n", ""), safe="/%{}") + (
            f"?{urlencode(query)}" if query else ""
        )
        began = time.monotonic()
        with patch("documents.jobs.MOST_WAITING", 10**9):
            answer = (
                self.client.generic(case.method, address, **_raw(given))
                if "content_type" in given or not given
                else self.client.post(address, **given)
            )
        if getattr(answer, "streaming", False):
            b"".join(answer.streaming_content)
        took = time.monotonic() - began
        self.slowest = max(self.slowest, (took, f"{case.method} {address[:80]}"))
        self.counts[answer.status_code] = self.counts.get(answer.status_code, 0) + 1
        self.assertIn(
            answer.status_code, ALLOWED, f"{case.method} {address} {str(body)[:600]}: {answer.content[:400]!r}"
        )


def _raw(given: dict[str, Any]) -> dict[str, Any]:
    return {"data": given["data"], "content_type": given["content_type"]} if given else {}


def _part(value: Any) -> Any:
    from django.core.files.uploadedfile import SimpleUploadedFile

    if isinstance(value, bytes):
        return SimpleUploadedFile("part", value)
    return value if isinstance(value, str) else json.dumps(value, default=str)


def memory() -> float:
    """The most memory that this process had, in MB."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
