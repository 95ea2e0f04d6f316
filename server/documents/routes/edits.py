"""Changes of a document: made, looked at beforehand, taken back, told of to other windows."""

from __future__ import annotations

from django.http import HttpResponse
from ninja import Router

from documents import door, presence
from documents.routes.answers import changed, json, operations
from documents.store import sent
from documents.store import shown as shown_by
from documents.wire.changes import EditIn, PreviewIn, StepIn
from documents.wire.opening import EditOut, HereIn, RestOut
from documents.wire.scene import SceneOut
from doors.asked import Asked
from doors.errors import ErrorOut
from nestline.scene import difference

router = Router(tags=["documents"])


@router.post(
    "/{document_id}/edits", response={200: EditOut, 400: ErrorOut, 403: ErrorOut, 404: ErrorOut, 409: ErrorOut}
)
def edit_document(request: Asked, document_id: int, given: EditIn) -> HttpResponse:
    """Make a change: the operations are applied, checked, stored with their inverse, and nested."""
    wanted = door.Wanted(
        given.base,
        operations(given.operations),
        given.label,
        given.join,
        given.window,
        given.mark,
        operations(given.on),
        given.prefer,
        tuple(given.seen),
    )
    return changed(request, door.make_edit(request.user.id, document_id, wanted), given.window, given.shown)


@router.post("/{document_id}/preview", response={200: SceneOut, 400: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def preview_document(request: Asked, document_id: int, given: PreviewIn) -> HttpResponse:
    """What a change would look like; nothing is stored."""
    wanted = door.Wanted(given.base, operations(given.operations), window=given.window)
    return json(door.preview(request.user.id, document_id, wanted, given.number))


def _step(given: StepIn) -> door.Wanted:
    return door.Wanted(given.base, window=given.window, mark=given.mark, prefer=given.prefer)


@router.post("/{document_id}/undo", response={200: EditOut, 400: ErrorOut, 403: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def undo_edit(request: Asked, document_id: int, given: StepIn) -> HttpResponse:
    """Take the last change back."""
    return changed(request, door.undo(request.user.id, document_id, _step(given)), given.window, given.shown)


@router.post("/{document_id}/redo", response={200: EditOut, 400: ErrorOut, 403: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def redo_edit(request: Asked, document_id: int, given: StepIn) -> HttpResponse:
    """Make the change that was taken back last again."""
    return changed(request, door.redo(request.user.id, document_id, _step(given)), given.window, given.shown)


@router.get("/{document_id}/since", response={200: EditOut, 404: ErrorOut})
def document_since(request: Asked, document_id: int, revision: int, window: str = "", shown: str = "") -> HttpResponse:
    """What differs from how the document stood at a revision."""
    return changed(request, door.since(request.user.id, document_id, revision), window, shown)


@router.get("/{document_id}/rest", response={200: RestOut, 404: ErrorOut})
def rest_of_document(request: Asked, document_id: int, shown: str = "") -> HttpResponse:
    """What a window does not show yet of a large document, after an answer that was not complete."""
    state = door.rest(request.user.id, document_id)
    with state.lock:
        scene = difference(state.studio, shown_by(shown), state.scene)
    return json({"revision": state.revision, "scene": scene, "shown": sent(document_id, state.scene)})


@router.post("/{document_id}/here", response={204: None, 404: ErrorOut})
def here(request: Asked, document_id: int, given: HereIn):  # type: ignore[no-untyped-def]
    """Say where a window is, to all others of the document; to be said once a minute at least."""
    presence.say_where(request.user, document_id, given.window, given.page, given.chosen, given.gone, given.hello)
    return 204, None
