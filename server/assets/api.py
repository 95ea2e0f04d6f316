"""The API of pictures and fonts."""

from __future__ import annotations

from django.http import FileResponse, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from assets.models import Picture
from assets.store import keep_picture
from documents.errors import ErrorOut
from nestline.fonts.library import shipped_fonts

router = Router(tags=["assets"])


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


class MetricsOut(Schema):
    """Heights and depths in ems."""

    ascent: float
    descent: float
    ascender: float
    descender: float
    cap: float
    ex: float


class FaceOut(Schema):
    key: str
    family: str
    weight: int
    slope: str
    url: str
    metrics: MetricsOut


@router.post("/pictures", response={200: PictureOut, 400: ErrorOut})
def upload_picture(request: HttpRequest, file: UploadedFile = File(...)) -> PictureOut:  # type: ignore[type-arg]
    """Bring a picture: PNG, JPEG or WebP, checked by its content."""
    return PictureOut.of(keep_picture(request.user.id, file.name or "picture", file.read()))


@router.get("/pictures/{picture_id}", include_in_schema=False)
def picture_file(request: HttpRequest, picture_id: int) -> HttpResponse:
    """A picture's bytes, for its owner."""
    row = get_object_or_404(Picture, id=picture_id, owner=request.user)
    response = FileResponse(row.path.open("rb"), content_type=row.media_type)
    response["Cache-Control"] = "private, max-age=31536000, immutable"
    response["Content-Security-Policy"] = "default-src 'none'"
    return response


@router.get("/fonts", response=list[FaceOut])
def fonts(request: HttpRequest) -> list[FaceOut]:
    """The faces that copy can be set in."""
    return [
        FaceOut(
            key=f.key, family=f.family, weight=f.weight, slope=f.slope, url=f"/static/fonts/{f.path.name}",
            metrics=MetricsOut(**vars(f.metrics)),
        )
        for f in shipped_fonts().faces.values()
    ]  # fmt: skip
