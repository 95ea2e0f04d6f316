"""What is asked about a frame, and nothing is changed: why copy stands where it does, ways to try it, ways to
end it."""

from __future__ import annotations

from dataclasses import asdict
from functools import partial
from typing import Any

from django.http import HttpResponse
from django.utils.text import slugify
from ninja import Router

from assets.libraries import colors_for
from documents import door
from documents.routes.answers import json
from documents.store import document_for, state_of
from documents.studios import finder_of, give_way
from documents.wire.changes import EndingOut, EndingsIn, OfferedOut, ReadColorOut, TriesIn, TryOut, TypedColorIn
from documents.wire.findings import CuresIn, FindingsOut, HoldsOut, StrainIn, StrainOut, TriedOut, WhyIn, WhyOut
from doors.asked import Asked
from doors.errors import ErrorOut
from nestline.acts import offers
from nestline.acts.acting import Acting
from nestline.acts.own_copy import color_read
from nestline.document.colors import offered, typed_color
from nestline.errors import NestLineError
from nestline.findings.finding import KINDS, QUOTED
from nestline.findings.strain import SHOWN, Strain, holds, strained, tries_under
from nestline.findings.strain_sheet import strain_sheet
from nestline.nesting.causes import why_here

router = Router(tags=["documents"])


@router.post("/{document_id}/why", response={200: WhyOut, 400: ErrorOut, 404: ErrorOut})
def why(request: Asked, document_id: int, given: WhyIn) -> HttpResponse:
    """Why what stands at a place of a page stands there."""
    state = state_of(document_for(request.user.id, document_id, "see"))
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


@router.get("/{document_id}/findings", response={200: FindingsOut, 400: ErrorOut, 404: ErrorOut})
def findings(request: Asked, document_id: int) -> HttpResponse:
    """What is wrong in a document as it is stored, what is set aside with it; marks are given where they are few."""
    row = document_for(request.user.id, document_id, "see")
    state = state_of(row)
    with state.lock:
        found = finder_of(state.studio).find(state.scene.document, state.scene.nests, partial(give_way, state.lock))
    return json(
        {
            "revision": state.revision,
            "findings": [
                {
                    "kind": one.kind,
                    "title": KINDS[one.kind].title,
                    "object": one.object,
                    "page": one.page,
                    "figure": one.figure,
                    "limit": one.limit,
                    "unit": KINDS[one.kind].unit,
                    "message": one.message,
                    "words": one.words[:QUOTED],
                    "range": one.range,
                    "marks": [[round(v, 2) for v in box] for box in one.marks[:MOST_MARKS]],
                    "fault": one.fault,
                    "neverMind": one.never_mind,
                    "hasCures": bool(one.cures),
                    "shown": KINDS[one.kind].shown,
                }
                for one in found
            ],
        }
    )


MOST_MARKS = 200


@router.get("/{document_id}/colors", response={200: list[OfferedOut], 404: ErrorOut})
def colors_of_teams(request: Asked, document_id: int) -> list[dict[str, str]]:
    """Colours of the teams one is in that a document has not."""
    colors = state_of(document_for(request.user.id, document_id, "see")).scene.document.head.colors
    return [asdict(one) for one in offered(colors, colors_for(request.user.id))]


@router.post("/{document_id}/colors/read", response={200: ReadColorOut, 400: ErrorOut, 404: ErrorOut})
def read_color(request: Asked, document_id: int, given: TypedColorIn) -> ReadColorOut:
    """A colour as it is typed, and how well copy of it would be read in an object."""
    state = state_of(document_for(request.user.id, document_id, "see"))
    document = state.scene.document
    color = typed_color(given.text, document.head.colors)
    if color is None or given.object is None or given.object not in document.page_of:
        return ReadColorOut(color=color, contrast=None, behind=None, said=None, poor=False)
    with state.lock:
        read = color_read(Acting(state.studio, document), given.object, color)
    return ReadColorOut(color=color, **asdict(read))


@router.post("/{document_id}/cures", response={200: list[TriedOut], 400: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def cures(request: Asked, document_id: int, given: CuresIn) -> list[dict[str, Any]]:
    """What can be done about a finding, each tried: those that mend it first."""
    state = state_of(document_for(request.user.id, document_id, "see"))
    with state.lock:
        document, finder = state.scene.document, finder_of(state.studio)
        found = finder.find(document, state.scene.nests)
        asked = (given.kind, given.object, given.page, given.range)
        one = next((f for f in found if (f.kind, f.object, f.page, f.range) == asked), None)
        if one is None:
            return []
        return [
            {
                "label": t.cure.label,
                "operations": list(t.cure.operations),
                "mends": t.mends,
                "more": t.more,
                "fewer": t.fewer,
            }
            for t in finder.tried(state.studio, document, one, found)
        ]


@router.post("/{document_id}/strain", response={200: StrainOut, 400: ErrorOut, 404: ErrorOut})
def strain(request: Asked, document_id: int, given: StrainIn) -> dict[str, Any]:
    """The document under longer or shorter copy, as operations for a preview."""
    state = state_of(document_for(request.user.id, document_id, "see"))
    with state.lock:
        return {"operations": strained(state.scene.document, given.strain(), given.version)}


@router.get("/{document_id}/strain/pictures", include_in_schema=False)
def strain_pictures(request: Asked, document_id: int, version: str | None = None) -> HttpResponse:
    """A page of small pictures: the document as it is, and under more and more strain."""
    row = document_for(request.user.id, document_id, "see")
    state = state_of(row)
    with state.lock:
        document = state.studio.read(state.raw)
        content = strain_sheet(state.studio, document, [Strain(by) for by in SHOWN], version)
    response = HttpResponse(content, content_type="image/png")
    response["Content-Disposition"] = f'inline; filename="{slugify(row.title) or "document"}-strain.png"'
    return response


MOST_STRAINED = 8
"""Pages of a document whose frames are all tried under strain in one request."""


@router.post("/{document_id}/holds", response={200: list[HoldsOut], 400: ErrorOut, 404: ErrorOut})
def how_far_frames_hold(request: Asked, document_id: int) -> list[dict[str, Any]]:
    """Up to which strain each frame holds its copy, those that break first before others."""
    state = state_of(document_for(request.user.id, document_id, "see"))
    with state.lock:
        document = state.scene.document
        if len(document.pages) > MOST_STRAINED:
            raise NestLineError(
                f"this document has {len(document.pages)} pages; how far frames hold is tried for "
                f"{MOST_STRAINED} at most"
            )
        return [{"object": one.object, "upTo": one.up_to} for one in holds(state.studio, document)]


@router.post("/{document_id}/tries", response={200: list[TryOut], 400: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def tries_of_frame(request: Asked, document_id: int, given: TriesIn) -> list[dict[str, Any]]:
    """The ways to try a frame in, with the operations of each."""
    with door.acting(request.user.id, document_id, given.base) as at:
        return tries_under(at, given.object, given.kind, given.version, given.strain)


@router.post("/{document_id}/endings", response={200: list[EndingOut], 400: ErrorOut, 404: ErrorOut, 409: ErrorOut})
def endings_of_frame(request: Asked, document_id: int, given: EndingsIn) -> list[offers.Ending]:
    """Up to three ways to make a frame's copy end exactly with it."""
    with door.acting(request.user.id, document_id, given.base) as at:
        return offers.endings(at, given.object, given.allowed, given.version)
