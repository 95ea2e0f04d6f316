"""How answers about documents are made: what several routes send."""

from __future__ import annotations

from typing import Any

import orjson
from django.http import HttpResponse

from assets.models import Picture
from documents import door
from documents.history import next_labels
from documents.models import Document
from documents.reach import Need, level_of
from documents.store import State, is_large, sent
from documents.store import shown as shown_by
from documents.wire.changes import Operation
from documents.wire.desk import DocumentOut
from doors.asked import Asked
from nestline.document.model import PageSheet
from nestline.scene import difference


def json(content: Any) -> HttpResponse:
    """JSON, arrays in it too."""
    return HttpResponse(
        orjson.dumps(content, option=orjson.OPT_SERIALIZE_NUMPY | orjson.OPT_NON_STR_KEYS),
        content_type="application/json",
    )


def operations(given: list[Operation]) -> list[dict[str, Any]]:
    """Operations as the core reads them."""
    return [o.dict(by_alias=True, exclude_unset=True) for o in given]


def summary(row: Document, user_id: int | None = None, may: Need | None = None) -> DocumentOut:
    """A document as it is listed, for a user that sees it and may do so much; without one, for its owner."""
    mine = user_id in (None, row.owner_id)
    width, height = PageSheet.model_validate(row.pages.all()[0].sheet).size
    return DocumentOut(
        id=row.id,
        title=row.title,
        changed=row.changed,
        width=width,
        height=height,
        pages=len(row.pages.all()),
        folder=row.folder,
        deleted=row.deleted,
        picture=f"/api/documents/{row.id}/picture.png?revision={row.revision}",
        owner=None if mine else row.owner.get_username(),
        shared=mine and bool(row.shares.all()),
        may="own" if mine else may or level_of(user_id or 0, row),
    )


def pictures(request: Asked, row: Document, state: State, known: State | None = None) -> dict[str, str]:
    """The addresses of a state's pictures by their files, those of a state that is known already left out."""
    files = _files(state) - (_files(known) if known else set())
    if not files:
        return {}
    rows = Picture.objects.filter(owner_id=row.owner_id, file__in=files).values_list("file", "id")
    at = "/api" if row.owner_id == request.user.id else f"/api/documents/{row.id}"
    return {file: f"{at}/pictures/{id}" for file, id in rows}


def _files(state: State) -> set[str]:
    return {t.picture.file for _, t in state.scene.document.objects() if t.picture}


def changed(request: Asked, made: door.Made, window: str, name: str = "") -> HttpResponse:
    """What is other after a change than in the window that asked; `name` says what that shows."""
    row, before, after = made.row, made.before, made.after
    undo, redo = next_labels(row, window)
    done = made.operations if before and is_large(after) and all(map(_of_copy, made.operations or [{}])) else None
    document = {"gone": []} if done else _parts(before.raw if before else {}, after.raw)
    # A window that shows what is not known here gets all there is.
    stood = shown_by(name) if name else (before.scene if before else None)
    with after.lock:
        scene = difference(after.studio, stood, after.scene)
    return json(
        {
            "revision": row.revision,
            "undo": undo,
            "redo": redo,
            "document": document,
            "operations": done,
            "scene": scene,
            "pictures": pictures(request, row, after, before),
            "complete": after.whole,
            "shown": sent(row.id, after.scene) if is_large(after) else "",
        }
    )


def _of_copy(operation: dict[str, Any]) -> bool:
    return bool(operation.get("at", [""])[:1] == ["copies"])


def _parts(old: dict[str, Any], new: dict[str, Any]) -> dict[str, Any]:
    """The parts of a document that are other than they were."""
    document: dict[str, Any] = {k: v for k, v in new.items() if k not in ("pages", "copies") and old.get(k) is not v}
    document["gone"] = [k for k in old if k not in new]
    if old.get("copies") is not new.get("copies"):
        document["copies"] = new.get("copies", {})
    if old.get("pages") is not new["pages"]:
        document["pages"] = new["pages"]
    return document
