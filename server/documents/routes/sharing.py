"""With whom a document is shared; pictures of one that is somebody else's."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.http import FileResponse
from ninja import Router

from assets.models import Picture
from assets.wire import picture_response
from documents.events import tell_again
from documents.models import Document, Share
from documents.reach import gone
from documents.store import document_for
from documents.wire.desk import ShareIn, ShareOut
from doors.asked import Asked
from doors.errors import ErrorOut, SaidOut
from nestline.errors import NestLineError
from people.errors import NotThere
from people.log import happened
from people.teams import team_of

router = Router(tags=["documents"])
MOST = 200
"""Shares of a document."""


def _out(row: Document) -> list[ShareOut]:
    return [
        ShareOut(id=one.id, name=one.whom, team=one.team is not None, may="edit" if one.may == "edit" else "see")
        for one in row.shares.select_related("user", "team")
    ]


@router.get("/{document_id}/shares", response={200: list[ShareOut], 403: ErrorOut, 404: ErrorOut})
def shares(request: Asked, document_id: int) -> list[ShareOut]:
    """With whom a document of one's own is shared."""
    return _out(document_for(request.user.id, document_id, "own"))


@router.put("/{document_id}/shares", response={200: list[ShareOut], 400: ErrorOut, 403: ErrorOut, 404: ErrorOut})
def share(request: Asked, document_id: int, given: ShareIn) -> list[ShareOut]:
    """Share a document with somebody or a team, or change what they may do."""
    row = document_for(request.user.id, document_id, "own")
    if row.shares.count() >= MOST:
        raise NestLineError(f"a document is shared with at most {MOST}; make a team of them")
    if given.team is not None:
        team = team_of(request.user.id, given.team)
        Share.objects.update_or_create(document=row, team=team, defaults={"may": given.may})
        about = team.name
    else:
        user = User.objects.filter(username=given.name, is_active=True).first()
        if user is None:
            raise NotThere(f"nobody is called “{given.name[:60]}” here")
        if user.pk == row.owner_id:
            raise NestLineError("it is yours already")
        Share.objects.update_or_create(document=row, user=user, defaults={"may": given.may})
        about = user.get_username()
    happened("shared", request.user, f"“{row.title}” with {about}: {given.may}", request)  # type: ignore[arg-type]
    tell_again([row.id])
    return _out(row)


@router.delete("/{document_id}/shares/{share_id}", response={200: list[ShareOut], 403: ErrorOut, 404: ErrorOut})
def unshare(request: Asked, document_id: int, share_id: int) -> list[ShareOut]:
    """Share a document with somebody no more; what they have open shows it no longer."""
    row = document_for(request.user.id, document_id, "own")
    if not row.shares.filter(id=share_id).delete()[0]:
        raise NotThere("it is not shared so any more")
    happened("shared no more", request.user, f"“{row.title}”", request)  # type: ignore[arg-type]
    return _out(row)


@router.delete("/{document_id}/mine", response={200: SaidOut, 404: ErrorOut})
def leave(request: Asked, document_id: int) -> SaidOut:
    """Let go of a document that somebody shares with one."""
    row = document_for(request.user.id, document_id, "see")
    if not row.shares.filter(user_id=request.user.id).delete()[0]:
        raise NestLineError("it is shared with a team of yours, or it is your own; who keeps it says with whom")
    return SaidOut(message=f"“{row.title}” is not in your list any more")


@router.get("/{document_id}/pictures/{picture_id}", include_in_schema=False)
def picture_of_document(request: Asked, document_id: int, picture_id: int) -> FileResponse:
    """A picture that a document shows, for whoever sees that."""
    row = document_for(request.user.id, document_id, "see")
    picture = Picture.objects.filter(id=picture_id, owner_id=row.owner_id).first()
    if picture is None or not row.pages.filter(objects_json__icontains=picture.file).exists():
        raise gone()
    return picture_response(picture)
