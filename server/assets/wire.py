"""What the API says of a picture, and its file."""

from __future__ import annotations

from django.http import FileResponse
from ninja import Schema

from assets import media
from assets.models import Picture


class PictureOut(Schema):
    file: str
    name: str
    url: str
    width: int
    height: int
    transparent: bool

    @staticmethod
    def of(row: Picture) -> PictureOut:
        url = f"/api/pictures/{row.id}"
        return PictureOut(
            file=row.file, name=row.name, url=url, width=row.width, height=row.height, transparent=row.transparent
        )


def picture_response(row: Picture) -> FileResponse:
    response = FileResponse(media.opened(row.kept), content_type=row.media_type)
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    response["Content-Security-Policy"] = "default-src 'none'"
    return response
