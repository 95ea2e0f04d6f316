"""Pictures, fonts, and what is taken from the shelf: with a document, on behalf of its owner."""

from __future__ import annotations

import hashlib
from functools import lru_cache
from pathlib import Path
from typing import Literal

from django.conf import settings
from django.http import FileResponse, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from assets import media
from assets.models import Font, Picture, within_reach
from assets.shelf import OF_TEAM, known
from assets.store import keep_font, keep_picture, lend_pictures, small_of
from assets.wire import PictureOut, picture_response
from documents.models import Document
from documents.store import document_for, raw_of
from documents.studios import fonts_now
from doors.asked import Asked
from doors.errors import ErrorOut, SaidOut
from nestline.errors import NestLineError
from nestline.fonts.about import kind_of, scripts_of
from nestline.fonts.baked import baked, features_of
from nestline.fonts.library import Face, FontLibrary

router = Router(tags=["assets"])


class MetricsOut(Schema):
    """Heights and depths in ems."""

    ascent: float
    descent: float
    ascender: float
    descender: float
    cap: float
    ex: float


class EndsOut(Schema):
    """What a variable font varies between."""

    least: float
    greatest: float

    @classmethod
    def of(cls, ends: tuple[float, float] | None) -> EndsOut | None:
        return None if ends is None else cls(least=ends[0], greatest=ends[1])


class FaceOut(Schema):
    key: str
    family: str
    weight: int
    slope: str
    weights: EndsOut | None
    """Where the face varies in it."""
    widths: EndsOut | None
    """The same, in per cent of the normal width."""
    url: str
    own: bool
    metrics: MetricsOut
    features: list[str]
    kind: Literal["serif", "sans", "mono", "other"]
    scripts: list[str]


@router.post("/pictures", response={200: PictureOut, 400: ErrorOut})
def upload_picture(request: Asked, file: UploadedFile = File(...), document: int | None = None) -> PictureOut:  # type: ignore[type-arg]
    """Bring a picture: PNG, JPEG or WebP, checked by its content. With a `document` of somebody else, that has it from
    then on, too."""
    row = keep_picture(request.user.id, file.name or "picture", file.read())
    _for_document(request, document, row)
    return PictureOut.of(row)


def _for_document(request: Asked, document: int | None, row: Picture) -> None:
    """Let a document that is somebody else's have a picture that one brings. Raises Gone, Refused."""
    if document is not None:
        lend_pictures(request.user.id, document_for(request.user.id, document, "edit").owner_id, row.file)


@router.get("/pictures/{picture_id}", include_in_schema=False)
def picture_file(request: Asked, picture_id: int) -> FileResponse:
    """A picture's bytes, for its owner and the team that it was given to."""
    return picture_response(get_object_or_404(Picture, within_reach(request.user.id), id=picture_id))


@router.get("/pictures/{picture_id}/small", include_in_schema=False)
def small_picture_file(request: Asked, picture_id: int) -> HttpResponse:
    """A small picture to look at in a list, for those who may have the picture."""
    row = get_object_or_404(Picture, within_reach(request.user.id), id=picture_id)
    response = HttpResponse(small_of(row), content_type="image/webp")
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@router.post("/shelf/{file}", tags=["shelf"], response={200: PictureOut, 400: ErrorOut})
def take_picture(request: Asked, file: str, document: int | None = None) -> PictureOut:
    """Take a picture from the shelf: it is kept with the user's own from then on, and with those of a `document`'s
    owner."""
    if file.startswith(OF_TEAM) and file.removeprefix(OF_TEAM).isdecimal():
        row = get_object_or_404(Picture, within_reach(request.user.id), id=int(file.removeprefix(OF_TEAM)[:15]))
        lend_pictures(request.user.id, request.user.id, row.file)  # their own from now on, whatever becomes of the team
        row = Picture.objects.get(owner_id=request.user.id, file=row.file)
        _for_document(request, document, row)
        return PictureOut.of(row)
    known(file)
    row = keep_picture(request.user.id, file, media.read(f"shelf/{file}"))
    _for_document(request, document, row)
    return PictureOut.of(row)


@router.get("/fonts", response=list[FaceOut])
def fonts(request: Asked, document: int | None = None) -> list[FaceOut]:
    """The faces that copy can be set in: those that come with the application, then the user's own and those of their
    teams; in a `document` of somebody else those that its owner has."""
    user_id = _whose(request, document)
    brought = {row.key: row for row in Font.objects.filter(within_reach(user_id))}
    at = f"?document={document}" if user_id != request.user.id else ""
    return [
        FaceOut(
            key=f.key,
            family=f.family,
            weight=f.weight,
            slope=f.slope,
            own=f.key in brought and brought[f.key].owner_id == request.user.id,
            weights=EndsOut.of(f.axes.weight),
            widths=EndsOut.of(f.axes.width),
            url=f"/api/fonts/{f.key}/file{at}" if f.key in brought else f"/static/fonts/{f.path.name}",
            metrics=MetricsOut(**vars(f.metrics)),
            features=_features(f),
            kind=kind_of(f),
            scripts=list(scripts_of(f)),
        )
        for f in _library(user_id).faces.values()
    ]


def _whose(request: Asked, document: int | None) -> int:
    """Whose fonts: one's own, or those of the owner of a document that one sees. Raises Gone."""
    if document is None:
        return request.user.id
    return document_for(request.user.id, document, "see").owner_id


def _library(user_id: int) -> FontLibrary:
    return fonts_now(user_id)


@lru_cache(maxsize=500)
def _features(face: Face) -> list[str]:
    return list(features_of(face))


@router.post("/fonts", response={200: list[str], 400: ErrorOut})
def upload_font(request: Asked, file: UploadedFile = File(...)) -> list[str]:  # type: ignore[type-arg]
    """Bring a font: TTF, OTF, WOFF or WOFF2, variable too; answers with the families it gave."""
    return [keep_font(request.user.id, file.read()).family]


@router.delete("/fonts/{family}", response={200: SaidOut, 400: ErrorOut})
def delete_font(request: Asked, family: str) -> SaidOut:
    """Take a family of one's own away; one that documents are set in stays."""
    used = [d.title for d in Document.objects.filter(owner=request.user, deleted=None) if family in str(raw_of(d))]
    if used:
        raise NestLineError(
            f"“{family}” is used in {', '.join(f'“{t}”' for t in used[:3])}; set that in another font first"
        )
    count, _ = Font.objects.filter(owner=request.user, family=family).delete()
    if not count:
        raise NestLineError(f"“{family}” is none of your own fonts")
    return SaidOut(message=f"“{family}” is gone")


@router.get("/fonts/{key}/file", include_in_schema=False)
def font_file(request: Asked, key: str, features: str = "", document: int | None = None) -> HttpResponse:
    """A face's font file; with `features` (smcp, -liga …) one that draws with them without being asked."""
    face = _library(_whose(request, document)).faces.get(key)
    if face is None:
        raise NestLineError("there is no such font")
    wanted = tuple(sorted(_feature(part) for part in features.split(",") if part))
    content = _baked(face, wanted) if wanted else face.path.read_bytes()
    response = HttpResponse(content, content_type="font/otf")
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


def _feature(part: str) -> tuple[str, int]:
    tag = part.lstrip("-")
    if len(tag) != 4 or not tag.isalnum():
        raise NestLineError(f"“{part}” is no OpenType feature")
    return tag, 0 if part.startswith("-") else 1


@lru_cache(maxsize=40)
def _baked(face: Face, features: tuple[tuple[str, int], ...]) -> bytes:
    """Made once (it takes a second), and kept beside the pictures."""
    key = hashlib.sha256(face.path.read_bytes() + repr(features).encode()).hexdigest()[:32]
    path = Path(settings.MEDIA_ROOT) / "drawn-fonts" / f"{key}.otf"
    if not path.exists():
        media.write_whole(path, baked(face, features))
    return path.read_bytes()
