"""What is asked about a frame, and nothing is changed: why copy stands where it does, ways to try it, ways to end it."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from ninja import Router

from documents import door
from documents.asked import Asked
from documents.errors import ErrorOut
from documents.routes.answers import json
from documents.store import own_document, state_of
from documents.wire import EndingOut, EndingsIn, TriesIn, TryOut, WhyIn, WhyOut
from nestline.acts import offers
from nestline.nesting.causes import why_here

router = Router(tags=["documents"])


@router.post("/{document_id}/why", response={200: WhyOut, 400: ErrorOut, 404: ErrorOut})
def why(request: Asked, document_id: int, given: WhyIn) -> HttpResponse:
    """Why what stands at a place of a page stands there."""
    state = state_of(own_document(request.user.id, document_id))
    with state.lock:
        found = why_here(state.scene.document, state.scene.nests, given.page, given.at)
    causes = [] if found is None else found[1]
    fields = ("what", "said", "figure", "object", "rule", "lit")
    return json(
        {
            "frame": None if found is None else found[0],
            "causes": [{name: getattr(cause, name) for name in fields} for cause in causes],
        }
    )


@router.post("/{document_id}/tries", response={200: list[TryOut], 400: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def tries_of_frame(request: Asked, document_id: int, given: TriesIn) -> list[dict[str, Any]]:
    """The ways to try a frame in, with the operations of each."""
    with door.acting(request.user.id, document_id, given.base) as at:
        return offers.tries(at, given.object, given.kind, given.version)


@router.post("/{document_id}/endings", response={200: list[EndingOut], 400: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def endings_of_frame(request: Asked, document_id: int, given: EndingsIn) -> list[offers.Ending]:
    """Up to three ways to make a frame's copy end exactly with it."""
    with door.acting(request.user.id, document_id, given.base) as at:
        return offers.endings(at, given.object, given.allowed, given.version)
