"""Keeping pictures and finding them again."""

from __future__ import annotations

import contextlib
import hashlib
import re
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from django.utils.text import slugify

from assets import media
from assets.models import Font, Picture, within_reach
from nestline.errors import NestLineError
from nestline.fonts.library import FontLibrary, read_face, shipped_fonts
from nestline.fonts.own import BadFont, OwnFace, read_own_font
from nestline.pictures.files import PictureFile, read_picture, small_picture
from nestline.studio import try_font


def keep_picture(owner_id: int, name: str, content: bytes) -> Picture:
    """Check a picture and keep it for a user; the same content is kept once. Raises NestLineError."""
    picture = read_picture(content)
    digest = hashlib.sha256(content).hexdigest()
    name = Path(name.replace("\0", "")).name.replace(
        f"-{digest[:16]}.", "."
    )  # the name that it had before it went out with a document
    stem = slugify(re.sub(r"\.[A-Za-z0-9]{1,5}$", "", name))[:60] or "picture"
    existing = Picture.objects.filter(owner_id=owner_id, sha256=digest).first()
    row = existing or Picture(
        owner_id=owner_id,
        file=f"pictures/{stem}-{digest[:16]}.{picture.ending}",
        name=name[:200],
        sha256=digest,
        media_type=picture.media_type,
        width=picture.width,
        height=picture.height,
        transparent=picture.transparent,
        size=len(content),
    )
    media.keep(row.kept, content)
    if existing is None:
        row.save()
        media.keep(row.kept, content)  # whoever deletes the last row of the same picture meanwhile takes its file
    return row


def picture_of(owner_id: int, file: str) -> PictureFile:
    """A user's picture by the name documents give it. Raises NestLineError."""
    row = Picture.objects.filter(owner_id=owner_id, file=file).first()
    if row is None:
        raise NestLineError(f"there is no picture “{file}” among yours; place it again, or import it with the document")
    try:
        content = media.read(row.kept)
    except OSError:
        raise NestLineError(f"the picture “{file}” cannot be read from the disk") from None
    return PictureFile(content, row.media_type, row.file.rpartition(".")[2], row.width, row.height, row.transparent)


def small_of(row: Picture) -> bytes:
    """A small picture of it, as WebP; kept beside it, and made anew where the store will not have it. Raises
    NestLineError, Away."""
    name = f"{row.kept}.small.webp"
    with contextlib.suppress(OSError):
        return media.read(name)
    try:
        small = small_picture(media.read(row.kept))
    except OSError:
        raise NestLineError(f"the picture “{row.name}” cannot be read from the disk") from None
    with contextlib.suppress(NestLineError):
        media.keep(name, small)
    return small


def lend_pictures(user_id: int, owner_id: int, content: Any) -> None:
    """Let the owner of a document have the pictures that somebody, or a team of theirs, brings into it: rows of the
    same bytes. `content` is whatever JSON names them."""
    wanted = set(_files_in(content))
    if not wanted:
        return
    known = set(Picture.objects.filter(owner_id=owner_id, file__in=wanted).values_list("file", flat=True))
    for row in Picture.objects.filter(within_reach(user_id), file__in=wanted - known).order_by("file").distinct("file"):
        row.pk, row.owner_id, row.team_id = None, owner_id, None
        row._state.adding = True
        row.save()


def _files_in(content: Any) -> Iterator[str]:
    if isinstance(content, str):
        if content.startswith("pictures/"):
            yield content
    elif isinstance(content, dict):
        for one in content.values():
            yield from _files_in(one)
    elif isinstance(content, list):
        for one in content:
            yield from _files_in(one)


def _contour_name(owner_id: int, file: str, key: str) -> str | None:
    row = Picture.objects.filter(owner_id=owner_id, file=file).first()
    return None if row is None else f"{row.kept}.{key}.contour"


def contour_of(owner_id: int, file: str, key: str) -> bytes | None:
    """A contour that was kept with a picture; None when there is none."""
    name = _contour_name(owner_id, file, key)
    try:
        return media.read(name) if name is not None else None
    except (OSError, media.Away):
        return None


def keep_contour(owner_id: int, file: str, key: str, content: bytes) -> None:
    """Keep a contour with its picture; where the disk will not have it, it is traced again next time."""
    name = _contour_name(owner_id, file, key)
    if name is not None:
        with contextlib.suppress(NestLineError):
            media.keep(name, content)


MOST_FACES = 200


def keep_font(owner_id: int, content: bytes) -> Font:
    """Check a font and keep it for a user; a face of the same family, weight and slope is replaced, and by a variable
    font all of its slope are.

    Raises NestLineError.
    """
    face = read_own_font(content)
    if face.family in shipped_fonts().families:
        raise BadFont(f"a font called “{face.family}” comes with the application already")
    if Font.objects.filter(owner_id=owner_id).count() >= MOST_FACES:
        raise BadFont(f"you have {MOST_FACES} fonts; take some away first")
    digest = hashlib.sha256(face.content).hexdigest()
    row = Font(
        owner_id=owner_id,
        family=face.family,
        weight=face.weight,
        slope=face.slope,
        sha256=digest,
        size=len(face.content),
        may_embed=face.may_embed,
    )
    _try(face)
    media.keep(row.kept, face.content)
    same = Font.objects.filter(owner_id=owner_id, family=face.family, slope=face.slope)
    (same if face.varies else same.filter(weight=face.weight)).delete()
    row.save()
    return row


def _try(face: OwnFace) -> None:
    """Refuse what cannot be measured, set or delivered. Raises BadFont."""
    try:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "font.otf"
            path.write_bytes(face.content)
            try_font(read_face(path, face.family, face.weight, face.slope))
    except Exception as error:
        if isinstance(error, NestLineError):
            raise
        raise BadFont(f"the font “{face.family}” cannot be measured ({type(error).__name__})") from None


def fonts_of(owner_id: int) -> FontLibrary:
    """The fonts that come with the application, a user's own and those of their teams; one stands in for those that are
    not there."""
    rows = Font.objects.filter(within_reach(owner_id)).order_by("family", "weight", "slope")
    own = [
        read_face(path, row.family, row.weight, row.slope) for row in rows if (path := media.here(row.kept)) is not None
    ]
    return FontLibrary([*shipped_fonts().faces.values(), *own], stands_in=True)
