"""What nobody should send: operations, acts and documents with one thing wrong. Never a fault of the server."""

from __future__ import annotations

import copy
import json
import os
import random
from typing import Any

from draws import fair, seeds
from nestline.acts import all_acts  # noqa: F401  (registers them)
from nestline.acts.acting import ACTS
from tests.test_api import ApiCase, raw

CASES = int(os.environ.get("NEST_FUZZ", "300"))
JUNK: list[Any] = [
    None,
    True,
    False,
    0,
    1,
    -1,
    0.5,
    -0.0,
    1e6,
    1e12,
    -1e9,
    2**70,
    "",
    "x",
    "9" * 400,
    "1e999",
    "12mm",
    "NaN",
    "f",
    "w",
    "\U0001fa81",
    "\u2028",
    "é" * 300,
    [],
    {},
    [[]],
    [None],
    [1, 2, 3],
    ["f", "f"],
    {"a": 1},
    {"id": "f"},
    {"kind": "path"},
    {"kind": "star", "points": 3},
    {"d": "M0 0"},
    {"runs": [{"text": "x"}]},
    [{"runs": 3}],
    [{"id": "q", "objects": []}],
    {"copy": "story"},
    {"width": -5},
    [0, -1, 1e9],
]


def junk(dice: random.Random, value: Any, depth: int = 0) -> Any:
    """A JSON value with something in it replaced, taken away, or put in twice."""
    if isinstance(value, dict) and value and depth < 9 and dice.random() < 0.9:
        name = dice.choice(list(value))
        out = dict(value)
        if dice.random() < 0.1:
            del out[name]
        elif dice.random() < 0.1:
            out[dice.choice(["id", "x", "frame", "turn", "to", "object", "copies"])] = dice.choice(JUNK)
        else:
            out[name] = junk(dice, value[name], depth + 1)
        return out
    if isinstance(value, list) and value and depth < 9 and dice.random() < 0.9:
        at = dice.randrange(len(value))
        if dice.random() < 0.15:
            return [*value[:at], *value[at + 1 :]]
        if dice.random() < 0.1:
            return [*value, value[at]]
        return [*value[:at], junk(dice, value[at], depth + 1), *value[at + 1 :]]
    return copy.deepcopy(dice.choice(JUNK))


PATHS: list[list[Any]] = [
    ["objects", "f"],
    ["objects", "f", "x"],
    ["objects", "f", "frame"],
    ["objects", "f", "frame", "give"],
    ["objects", "w", "wrap"],
    ["objects", "f", "id"],
    ["objects", "f", "outline"],
    ["objects", "f", "ties"],
    ["pages"],
    ["pages", 0],
    ["pages", 0, "objects"],
    ["pages", 0, "objects", 0],
    ["copies"],
    ["copies", "story"],
    ["copies", "story", "versions", "en", "paragraphs"],
    ["title"],
    ["colors"],
    ["copies", "story", "versions", "en", "paragraphs", 0, "runs"],
    ["styles"],
    ["recipes"],
    ["chains"],
    ["unit"],
    ["language"],
    ["showing"],
    ["objects", "f", "contour"],
    ["objects", "f", "picture"],
    ["objects", "f", "anchor"],
    ["objects", "f", "frame", "fit_type"],
]


def operation(dice: random.Random) -> Any:
    kind = dice.random()
    if kind < 0.45:
        at: Any = dice.choice(PATHS)
        at = [*at, dice.choice(["x", "id", 0, -1, 99, "runs", "copy", ""])] if dice.random() < 0.3 else at
        do = dice.choice(["put", "put", "cut", "splice"])
        made = {
            "do": do,
            "at": at,
            "value": dice.choice(JUNK),
            "from": dice.choice([0, 0, 1, -1]),
            "remove": dice.choice([0, 1, 5]),
            "insert": dice.choice([[], [{}], JUNK[:3], [{"id": "n"}]]),
        }
        return junk(dice, made) if dice.random() < 0.2 else made
    name = dice.choice(list(ACTS))
    fields = ACTS[name][0].model_fields
    likely: dict[str, Any] = {
        "object": "f",
        "objects": ["f", "w"],
        "frame": "f",
        "copy": "story",
        "version": "en",
        "by": [3, 4],
        "paragraphs": [0],
        "to": "w",
        "at": [1, 2],
        "name": "N",
        "id": "n1",
        "page": 0,
        "pages": [0],
        "stretches": [[0, 5]],
        "how": "union",
        "axis": "x",
        "recipe": "R",
        "style": "S",
    }
    given = {n: likely.get(n, dice.choice(JUNK)) for n, f in fields.items() if f.is_required() or dice.random() < 0.4}
    return {"do": "act", "act": name, "given": junk(dice, given) if given and dice.random() < 0.6 else given}


class Fuzz(ApiCase):
    def test_operations_and_acts_with_something_wrong(self) -> None:
        id, revision, taken = self.new(), 1, 0
        for seed in seeds(CASES):
            dice = random.Random(seed)
            body = {
                "base": revision,
                "operations": [operation(dice) for _ in range(dice.choice([1, 1, 2]))],
                "label": "Fuzz",
            }
            if dice.random() < 0.15:
                body = junk(dice, body)
            sent = self.send(f"/api/documents/{id}/{dice.choice(['edits', 'edits', 'preview'])}", body)
            self.assertIn(
                sent.status_code, (200, 400, 404, 409, 422, 503), f"seed {seed}: {body} {sent.content[:400]!r}"
            )
            if sent.status_code != 200:
                self.assertTrue(sent.json().get("message") or sent.json().get("detail"), seed)
            elif "revision" in sent.json() and sent.json()["revision"] != revision:
                taken += 1
                # What was taken is a valid document, and can be taken back.
                self.open(id)
                back = self.send(f"/api/documents/{id}/undo", {"base": sent.json()["revision"]})
                self.assertEqual(back.status_code, 200, f"seed {seed}: {body} {back.content[:300]!r}")
                revision = back.json()["revision"]
        self.assertGreaterEqual(taken, fair(CASES / 40))

    def test_documents_with_one_thing_wrong(self) -> None:
        brought = 0
        for seed in seeds(CASES // 3):
            dice = random.Random(seed)
            content = json.dumps(junk(dice, raw())).encode()
            sent = self.client.post("/api/documents/import", {"file": _file(content)})
            self.assertIn(sent.status_code, (200, 400, 503), f"seed {seed}: {content[:600]!r} {sent.content[:400]!r}")
            if sent.status_code == 200:
                brought += 1
                for kind in ("pdf", "json"):
                    out = self.client.get(f"/api/documents/{sent.json()['id']}/{kind}")
                    self.assertIn(out.status_code, (200, 400, 503), f"seed {seed}: {kind} {content[:600]!r}")
        self.assertGreaterEqual(brought, fair(5))


def _file(content: bytes) -> Any:
    from django.core.files.uploadedfile import SimpleUploadedFile

    return SimpleUploadedFile("a.json", content)
