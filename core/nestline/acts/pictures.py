"""Pictures placed on a page: in the way of the copy, in it, or behind it."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.anchoring import PutAnchor, put_anchor
from nestline.acts.paths import Figure
from nestline.acts.wraps import CLEARANCE
from nestline.document import edits
from nestline.document.edits import Operation, Raw
from nestline.pictures.contour import stands_on_paper
from nestline.pictures.files import PictureFile

SHARE_OF_PAGE = 0.4
"""How large a new picture is at the most, as a share of its page's sides."""


class PlacePicture(Given):
    page: int
    file: Annotated[str, Field(min_length=1, max_length=500)]
    name: str = ""
    at: tuple[Figure, Figure] | None = None
    """Where its middle goes; the page's middle when not given."""
    id: str | None = None
    frame: str | None = None
    """The frame in whose copy it is to stand, in line."""
    place: int | None = None
    """The code point of that copy that it stands before; its start when not given."""
    version: str | None = None


@act("place-picture", PlacePicture)
def place_picture(at: Acting, given: PlacePicture) -> list[Operation]:
    """A picture on a page, with copy running round what it shows: by its transparency, by its contour where it stands on
    white (it is then painted inside that only), else by its outline. With a frame it stands in that frame's copy."""
    if not 0 <= given.page < len(at.document.pages):
        raise ActError("that page is not there any more")
    file = at.studio.pictures(given.file)
    width, height = at.document.pages[given.page].sheet.size
    scale = SHARE_OF_PAGE * min(width / file.width, height / file.height)
    across, down = file.width * scale, file.height * scale
    cx, cy = given.at or (width / 2, height / 2)
    made: Raw = {
        "id": given.id or at.fresh_id(), "name": given.name, "x": round(cx - across / 2, 4), "y": round(cy - down / 2, 4),
        "width": round(across, 4), "height": round(down, 4), "picture": {"file": given.file, "alt": ""},
        **shows_round(file),
    }  # fmt: skip
    if made.pop("clip", False):
        made["picture"]["clip"] = "contour"
    count = len(at.document.raw["pages"][given.page]["objects"])
    path: list[str | int] = ["pages", given.page, "objects"]
    out: list[Operation] = [{"do": "splice", "at": path, "from": count, "remove": 0, "insert": [made]}]
    if given.frame is None:
        return out
    after = at.studio.read(edits.apply(at.document.raw, out).document)
    anchor = PutAnchor(
        object=made["id"], frame=given.frame, at=given.place or 0, place="in-line", version=given.version
    )
    return out + put_anchor(Acting(at.studio, after), anchor)


class ReplacePicture(Given):
    object: str
    file: Annotated[str, Field(min_length=1, max_length=500)]


@act("replace-picture", ReplacePicture)
def replace_picture(at: Acting, given: ReplacePicture) -> list[Operation]:
    """Another picture where one stands: its box, its place in its outline and how near copy comes stay. A contour is that of the
    new one, found anew: marks of a subject and points moved by hand were of the old. Copy that ran round a contour runs round
    the outline when the new picture has none that is found by itself."""
    thing = at.thing(given.object)
    if thing.picture is None:
        raise ActError(f"“{at.label(thing)}” holds no picture")
    raw = at.raw(thing.id)
    fresh = shows_round(at.studio.pictures(given.file))
    picture: Raw = {**raw["picture"], "file": given.file, "alt": ""}
    if fresh.pop("clip", False) and thing.wrap.by == "contour":
        picture["clip"] = "contour"
    else:
        picture.pop("clip", None)
    path: list[str | int] = ["objects", thing.id]
    out: list[Operation] = [{"do": "put", "at": [*path, "picture"], "value": picture}]
    if "contour" in raw:
        out.append({"do": "cut", "at": [*path, "contour"]})
    if thing.wrap.by == "contour":
        if "contour" in fresh:
            out.append({"do": "put", "at": [*path, "contour"], "value": fresh["contour"]})
        if fresh["wrap"]["by"] != "contour":
            out.append({"do": "put", "at": [*path, "wrap"], "value": {**(raw.get("wrap") or {}), "by": "outline"}})
    return out


def shows_round(file: PictureFile) -> Raw:
    """How copy runs round a new picture, as fields of its object; `clip` where it is painted inside its contour only."""
    if file.transparent:
        return {"wrap": {"by": "contour", "clearance": CLEARANCE}}
    if stands_on_paper(file):
        return {"wrap": {"by": "contour", "clearance": CLEARANCE}, "contour": {"from": "plain"}, "clip": True}
    return {"wrap": {"by": "outline", "clearance": CLEARANCE}}
