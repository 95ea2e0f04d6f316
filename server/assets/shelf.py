"""The picture shelf: a small library of made-up pictures, the stand-in for a stock picture service."""

from __future__ import annotations

import io
import json
from pathlib import Path

from django.http import FileResponse
from ninja import Router, Schema
from PIL import Image

from assets import media
from assets.models import Picture
from doors.asked import Asked
from nestline.errors import NestLineError
from nestline.pictures.files import small_picture

router = Router(tags=["shelf"])
OF_TEAM = "team-picture-"
"""What the names of pictures begin with that were given to a team."""


class ShelfPicture(Schema):
    """A picture of the shelf, with the address of a small one to look at."""

    file: str
    title: str
    url: str
    width: int
    height: int
    transparent: bool
    team: str | None = None
    """The team that it was given to; one of the shelf itself has none."""


def fill_shelf(pictures: list[tuple[str, str, str, bytes]]) -> None:
    """Put pictures on the shelf: file, title, words to search by, content. What stood there before goes."""
    index = []
    for file, title, words, content in pictures:
        media.put(f"shelf/{file}", content)
        with Image.open(io.BytesIO(content)) as image:
            entry = {
                "file": file,
                "title": title,
                "words": words,
                "width": image.width,
                "height": image.height,
                "transparent": image.mode == "RGBA",
            }
        media.put(f"shelf/{file}.small.webp", small_picture(content))
        index.append(entry)
    media.put("shelf/index.json", json.dumps(index).encode())


def _index() -> list[dict[str, str | int | bool]]:
    try:
        return json.loads(media.read("shelf/index.json"))  # type: ignore[no-any-return]
    except OSError:
        return []


@router.get("", response=list[ShelfPicture])
def shelf(request: Asked, search: str = "") -> list[ShelfPicture]:
    """The pictures whose title or words begin with each of the words searched for; all of them without any."""
    wanted = search.lower().split()
    found = _of_teams(request, wanted)
    for entry in _index():
        words = f"{entry['title']} {entry['words']}".lower().split()
        if all(any(word.startswith(w) for word in words) for w in wanted):
            url = f"/api/shelf/{entry['file']}/small"
            found.append(ShelfPicture(url=url, **{k: v for k, v in entry.items() if k != "words"}))  # type: ignore[arg-type]
    return found


def _of_teams(request: Asked, wanted: list[str]) -> list[ShelfPicture]:
    """Pictures that were given to the user's teams, the last first."""
    rows = Picture.objects.filter(team__members__user_id=request.user.id).select_related("team").order_by("-id")
    for word in wanted:
        rows = rows.filter(name__icontains=word)
    return [
        ShelfPicture(
            file=f"{OF_TEAM}{row.id}",
            title=Path(row.name).stem,
            url=f"/api/pictures/{row.id}/small",
            width=row.width,
            height=row.height,
            transparent=row.transparent,
            team=row.team.name if row.team else None,
        )
        for row in rows[:200]
    ]


@router.get("/{file}/small", include_in_schema=False)
def small_of_shelf(request: Asked, file: str) -> FileResponse:
    """A small picture to look at."""
    known(file)
    response = FileResponse(media.opened(f"shelf/{file}.small.webp"), content_type="image/webp")
    response["Cache-Control"] = "private, max-age=3600"
    return response


def known(file: str) -> None:
    """Raises NestLineError where the shelf has no such picture."""
    if file not in {entry["file"] for entry in _index()}:
        raise NestLineError(f"there is no “{file}” on the shelf any more")
