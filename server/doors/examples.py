"""Examples of the API's reference, one after the other: a small poster made by requests alone. They are run by a test.

In paths and bodies `{name}` stands for what an earlier answer held (`keeps`: name → where in the answer it stands). Of
an answer those parts are shown that matter; the test holds them to be in it.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True)
class Example:
    """`operation` is the path in the schema that it is an example of; `given` is JSON, `file` the name of one that is
    sent."""

    title: str
    says: str
    method: str
    path: str
    operation: str
    given: Any = None
    file: str = ""
    status: int = 200
    answer: Any = None
    keeps: dict[str, str] = field(default_factory=dict)


HEART = {
    "id": "heart",
    "x": 50,
    "y": 40,
    "width": 200,
    "height": 180,
    "outline": {"kind": "heart"},
    "frame": {"copy": "story", "padding": 10, "sit": "middle"},
}
STORY = {
    "versions": {
        "en": {
            "language": "en",
            "paragraphs": [
                {
                    "align": "center",
                    "runs": [{"text": "Bring string, bring friends, bring the wind."}],
                }
            ],
        }
    }
}
BADGE = {
    "id": "badge",
    "x": 200,
    "y": 120,
    "width": 60,
    "height": 60,
    "outline": {"kind": "ellipse"},
    "fill": {"color": "#c8442e"},
    "wrap": {"by": "outline", "clearance": "1em"},
}

EXAMPLES = [
    Example(
        "Sign in",
        "First ask for any page: its cookie `csrftoken` goes into the header X-CSRFToken of every request "
        "that changes something. "
        "The cookie of the session comes with the answer.",
        "POST",
        "/api/session",
        "/api/session",
        {"name": "designer", "password": "kite-day"},
        answer={"name": "designer"},
    ),
    Example(
        "Begin a document",
        "Lengths are figures in points, or text with a unit.",
        "POST",
        "/api/documents",
        "/api/documents",
        {"title": "Kite Day", "width": "300pt", "height": "300pt", "bleed": "3mm", "unit": "mm"},
        answer={"title": "Kite Day", "width": 300.0, "pages": 1, "may": "own"},
        keeps={"document": "id"},
    ),
    Example(
        "Open it",
        "Everything to draw it, and the revision that a change stands on.",
        "GET",
        "/api/documents/{document}",
        "/api/documents/{document_id}",
        answer={"revision": 1, "document": {"title": "Kite Day", "format": "nest-line"}},
        keeps={"revision": "revision"},
    ),
    Example(
        "Put a heart of copy on the page",
        "A change is a list of operations that hold together. `mark` is an id of your own: sent again under "
        "the same, a change is made once.",
        "POST",
        "/api/documents/{document}/edits",
        "/api/documents/{document_id}/edits",
        {
            "base": "{revision}",
            "mark": "a-heart-of-copy",
            "label": "Add a heart",
            "operations": [
                {"do": "put", "at": ["copies", "story"], "value": STORY},
                {"do": "splice", "at": ["pages", 0, "objects"], "from": 0, "remove": 0, "insert": [HEART]},
            ],
        },
        answer={"undo": "Add a heart", "complete": True, "scene": {"nested": ["heart"]}},
        keeps={"revision": "revision"},
    ),
    Example(
        "Look before you change",
        "A preview is answered like a change, and nothing is stored: a badge is laid over the heart, and "
        "copy runs round it at an em.",
        "POST",
        "/api/documents/{document}/preview",
        "/api/documents/{document_id}/preview",
        {
            "base": "{revision}",
            "operations": [{"do": "splice", "at": ["pages", 0, "objects"], "from": 1, "remove": 0, "insert": [BADGE]}],
        },
        answer={"nested": ["heart"]},
    ),
    Example(
        "Do it, by an act",
        "An act is what a designer does in one go; acts are expanded to operations by the core.",
        "POST",
        "/api/documents/{document}/edits",
        "/api/documents/{document_id}/edits",
        {
            "base": "{revision}",
            "mark": "a-badge",
            "operations": [
                {"do": "splice", "at": ["pages", 0, "objects"], "from": 1, "remove": 0, "insert": [BADGE]},
                {"do": "act", "act": "move", "given": {"objects": ["badge"], "by": [-20, 10]}},
            ],
        },
        answer={"scene": {"nested": ["heart"]}},
        keeps={"revision": "revision"},
    ),
    Example(
        "What is wrong is said",
        "With the path of what is wrong; nothing was changed.",
        "POST",
        "/api/documents/{document}/edits",
        "/api/documents/{document_id}/edits",
        {"base": "{revision}", "operations": [{"do": "put", "at": ["objects", "badge", "width"], "value": -5}]},
        status=400,
        answer={"path": "$.pages[0].objects[1].width"},
    ),
    Example(
        "Why is it there?",
        "What put a line's end, or its baseline, where it is.",
        "POST",
        "/api/documents/{document}/why",
        "/api/documents/{document_id}/why",
        {"page": 0, "at": [150, 130]},
    ),
    Example(
        "What may be a fault",
        "Measured, with the limit that it passes.",
        "GET",
        "/api/documents/{document}/findings",
        "/api/documents/{document_id}/findings",
    ),
    Example(
        "Take it back",
        "Your own last change, also where others changed something since.",
        "POST",
        "/api/documents/{document}/undo",
        "/api/documents/{document_id}/undo",
        {"base": "{revision}"},
        keeps={"revision": "revision"},
    ),
    Example(
        "Bring a picture",
        "As a form's file; its content says what it is.",
        "POST",
        "/api/pictures",
        "/api/pictures",
        file="box-kite.png",
        answer={"name": "box-kite.png", "transparent": True},
    ),
    Example(
        "Have it printed",
        "Short exports have an address at once; long ones are a job, whose `url` is there when it is done.",
        "POST",
        "/api/documents/{document}/exports",
        "/api/documents/{document_id}/exports",
        {"kind": "pdf"},
        answer={"job": None},
    ),
]
