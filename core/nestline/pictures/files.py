"""Picture files: what they are by their content, never by their name. PNG, JPEG and WebP."""

from __future__ import annotations

import io
from dataclasses import dataclass

from PIL import Image, ImageOps

from nestline.errors import NestLineError

MOST_BYTES = 40_000_000
MOST_PIXELS = 60_000_000
_KINDS = {"PNG": ("image/png", "png"), "JPEG": ("image/jpeg", "jpg"), "WEBP": ("image/webp", "webp")}

Image.MAX_IMAGE_PIXELS = None  # the limit is checked here, before anything is decoded


class PictureError(NestLineError):
    """The file is not a picture that can be placed."""

    code = "picture"


@dataclass(frozen=True)
class PictureFile:
    """A checked picture: its bytes, media type, file ending, size in px as seen (turned as its EXIF says), alpha."""

    content: bytes
    media_type: str
    ending: str
    width: int
    height: int
    transparent: bool

    def decoded(self) -> Image.Image:
        """The pixels, upright: RGB, or RGBA when there is transparency."""
        with Image.open(io.BytesIO(self.content)) as image:
            upright = ImageOps.exif_transpose(image)
            return upright.convert("RGBA" if self.transparent else "RGB")


def read_picture(content: bytes) -> PictureFile:
    """Check a picture file by decoding it. Raises PictureError in the user's words."""
    if len(content) > MOST_BYTES:
        raise PictureError(
            f"the picture has {len(content) / 1e6:.0f} MB; at most {MOST_BYTES / 1e6:.0f} MB can be placed"
        )
    try:
        with Image.open(io.BytesIO(content), formats=list(_KINDS)) as image:
            kind = image.format or ""
            if image.width * image.height > MOST_PIXELS:
                raise PictureError(
                    f"the picture has {image.width} × {image.height} px; at most {MOST_PIXELS / 1e6:.0f} "
                    f"million can be placed"
                )
            image.load()
            alpha = image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info
            upright = ImageOps.exif_transpose(image)
            width, height = upright.size
            if alpha:
                alpha = upright.convert("RGBA").getchannel("A").histogram()[255] < width * height
    except PictureError:
        raise
    except Exception:
        raise PictureError("this is not a picture that can be read; PNG, JPEG and WebP files can be placed") from None
    return PictureFile(content, *_KINDS[kind], width, height, alpha)


SMALL = 320
"""The longer side of a small picture, in px."""


def small_picture(content: bytes) -> bytes:
    """A picture to look at in a list, upright, as WebP, its longer side `SMALL` px at most. Raises PictureError."""
    try:
        with Image.open(io.BytesIO(content), formats=list(_KINDS)) as image:
            image.draft("RGB", (2 * SMALL, 2 * SMALL))  # a JPEG is decoded no larger than that takes
            clear = image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info
            small = ImageOps.exif_transpose(image).convert("RGBA" if clear else "RGB")
        small.thumbnail((SMALL, SMALL), Image.Resampling.LANCZOS)
        out = io.BytesIO()
        small.save(out, "WEBP", quality=86)
    except Exception:
        raise PictureError("this picture cannot be read any more") from None
    return out.getvalue()
