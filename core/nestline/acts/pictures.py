"""Pictures placed on a page: in the way of the copy, in it, or behind it."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.anchoring import PutAnchor, put_anchor
from nestline.acts.arranging import Delete, delete
from nestline.acts.paths import Figure
from nestline.acts.wraps import CLEARANCE
from nestline.document import edits
from nestline.document.edits import Operation, Raw
from nestline.pictures.contour import cut_out, stands_on_paper
from nestline.pictures.files import PictureFile

SHARE_OF_PAGE = 0.4
"""How large a new picture is at the most, as a share of its page's sides."""


STAYS = ("threshold", "smoothness", "points")
"""What of a contour is set by hand and stays with another picture."""


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
    """A picture on a page, with copy running round what it shows: by its transparency, by its contour where it stands
    on white (it is then painted inside that only), else by its outline. With a frame it stands in that frame's copy."""
    if not 0 <= given.page < len(at.document.pages):
        raise ActError("that page is not there any more")
    file = at.studio.pictures(given.file)
    width, height = at.document.pages[given.page].sheet.size
    scale = SHARE_OF_PAGE * min(width / file.width, height / file.height)
    across, down = file.width * scale, file.height * scale
    cx, cy = given.at or (width / 2, height / 2)
    made: Raw = {
        "id": given.id or at.fresh_id(),
        "name": given.name,
        "x": round(cx - across / 2, 4),
        "y": round(cy - down / 2, 4),
        "width": round(across, 4),
        "height": round(down, 4),
        "picture": {"file": given.file, "alt": ""},
        **shows_round(file),
    }
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
    """Another picture where one stands: its box, its place in its outline and how near copy comes stay. A contour is
    that of the new one, found anew: marks of a subject and points moved by hand were of the old. Copy that ran round a
    contour runs round the outline when the new picture has none that is found by itself."""
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
        # How faint and how smooth stay as they were set, where the new one is found in the same way.
        was, found = raw.get("contour") or {}, fresh.get("contour", {})
        if fresh["wrap"]["by"] == "contour" and found.get("from") == was.get("from"):
            found = {**found, **{name: was[name] for name in STAYS if name in was}}
        if found:
            out.append({"do": "put", "at": [*path, "contour"], "value": found})
        if fresh["wrap"]["by"] != "contour":
            out.append({"do": "put", "at": [*path, "wrap"], "value": {**(raw.get("wrap") or {}), "by": "outline"}})
    return out


class IntoOutline(Given):
    picture: str
    outline: str


@act("into-outline", IntoOutline)
def into_outline(at: Acting, given: IntoOutline) -> list[Operation]:
    """A picture that stands by itself goes into an outline that holds nothing, and fills it; the outline keeps its
    place, paint and wrap."""
    thing, outline = at.thing(given.picture), at.thing(given.outline)
    if thing.picture is None:
        raise ActError(f"“{at.label(thing)}” holds no picture")
    if outline.picture is not None or outline.frame is not None:
        raise ActError(f"“{at.label(outline)}” holds something already; take that out first")
    held = {"file": thing.picture.file, "alt": thing.picture.alt}
    out: list[Operation] = [{"do": "put", "at": ["objects", outline.id, "picture"], "value": held}]
    after = at.studio.read(edits.apply(at.document.raw, out).document)
    return out + delete(Acting(at.studio, after), Delete(objects=[thing.id]))


class OutOfOutline(Given):
    object: str
    id: str | None = None


@act("out-of-outline", OutOfOutline)
def out_of_outline(at: Acting, given: OutOfOutline) -> list[Operation]:
    """A picture taken out of its outline, which stays: it stands before all, where and as large as it was seen, in its
    own proportions, whole."""
    thing = at.thing(given.object)
    if thing.picture is None:
        raise ActError(f"“{at.label(thing)}” holds no picture")
    file, raw = at.studio.pictures(thing.picture.file), at.raw(thing.id)
    x, y, width, height = at.stands(thing.id).box
    shares = (width / file.width, height / file.height)
    scale = (max(shares) if thing.picture.fit == "fill" else min(shares)) * thing.picture.scale
    across, down = file.width * scale, file.height * scale
    cx, cy = x + width / 2 + thing.picture.x.points(), y + height / 2 + thing.picture.y.points()
    made: Raw = {
        "id": given.id or at.fresh_id(),
        "name": "",
        "x": round(cx - across / 2, 4),
        "y": round(cy - down / 2, 4),
        "width": round(across, 4),
        "height": round(down, 4),
        "turn": thing.turn,
        "picture": {"file": thing.picture.file, "alt": thing.picture.alt},
        **shows_round(file),
    }
    if made.pop("clip", False):
        made["picture"]["clip"] = "contour"
    page = at.document.page_of[thing.id]
    path: list[str | int] = ["pages", page, "objects"]
    count = len(at.document.raw["pages"][page]["objects"])
    out: list[Operation] = [{"do": "cut", "at": ["objects", thing.id, "picture"]}]
    if "contour" in raw:
        out.append({"do": "cut", "at": ["objects", thing.id, "contour"]})
    if thing.wrap.by == "contour":
        out.append({"do": "put", "at": ["objects", thing.id, "wrap"], "value": {**raw["wrap"], "by": "outline"}})
    return [*out, {"do": "splice", "at": path, "from": count, "remove": 0, "insert": [made]}]


def shows_round(file: PictureFile) -> Raw:
    """How copy runs round a new picture, as fields of its object; `clip` where it is painted inside its contour
    only."""
    if cut_out(file):
        return {"wrap": {"by": "contour", "clearance": CLEARANCE}}
    if stands_on_paper(file):
        return {"wrap": {"by": "contour", "clearance": CLEARANCE}, "contour": {"from": "plain"}, "clip": True}
    return {"wrap": {"by": "outline", "clearance": CLEARANCE}}
