"""What a screen draws: objects as paths with paint, nests as flat arrays, shaped copies as their word segments.

A client that has the scene of one state of a document gets, for another, only what differs (`difference`). Line
records are flat so that a nest stays small enough for every step of a drag.
"""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from nestline import rows as k
from nestline.acts.offers import capitals, cures
from nestline.alike import same_ends
from nestline.copy.hyphenation import Hyphenation, has_patterns
from nestline.copy.line_ends import hyphen_of
from nestline.copy.shaped_copy import ShapedCopy
from nestline.copy.shaped_paragraph import ShapedParagraph
from nestline.copy.styles import Rules
from nestline.copy.wording import CONTINUED, continued
from nestline.document import recipes
from nestline.document.colors import color_figure, tinted
from nestline.document.model import LetterStroke, Line, PageObject, Stroke
from nestline.document.reading import Document
from nestline.errors import NestLineError
from nestline.fonts.baked import fitted_features
from nestline.fonts.library import FontLibrary
from nestline.nesting.anchors import is_on_left, starts_left
from nestline.nesting.giving import may_give
from nestline.nesting.glyphs import InLinePlace, column_rules, drop_caps, marks, underlines
from nestline.nesting.nests import Nests, settled
from nestline.nesting.placed import PlacedNest
from nestline.nesting.quality import evenness, rivers
from nestline.nesting.wrapping import own_wrap_region
from nestline.outlines import kinds, path, placing
from nestline.outlines.path import to_svg
from nestline.outlines.polygons import Region
from nestline.pictures.busy import SURE
from nestline.pictures.placed import clip_of, placement, resolution
from nestline.remembering import remember
from nestline.studio import Studio

Json = dict[str, Any]


@dataclass(frozen=True, eq=False)
class Scene:
    """A document drawn: its parts with what they depend on; `read` is the document as it was read, before anything
    moved."""

    document: Document
    nests: Nests
    read: Document | None = None


def scene_of(studio: Studio, document: Document, pages: list[int] | None = None) -> Scene:
    """Nest a document, or some of its pages. Raises DocumentError."""
    nests = studio.nest(document, pages=pages)
    return Scene(settled(document, nests), nests, document)


def scene_seen(studio: Studio, document: Document, before: Scene, seen: Iterable[int]) -> Scene | None:
    """A scene in which what is seen is as the document has it, after a change of copy, and the other pages are as they
    were; None where that does not do (see `Nester.nest_seen`). Raises DocumentError."""
    if before.read is None:
        return None
    nests = studio.nest_seen(document, before.read, before.nests, seen)
    return None if nests is None else Scene(settled(document, nests), nests, document)


def first_page_of(scene: Scene) -> Scene:
    """The first page as a document of its own, for a small picture of it."""
    nests = Nests()
    nests.extend(nest for nest in scene.nests if nest.page == 0)
    return Scene(replace(scene.document, pages=scene.document.pages[:1]), nests)


def whole(studio: Studio, scene: Scene, page: int | None = None) -> Json:
    """Everything a screen needs to draw the document, or one page of it: then the others are there, but bare."""
    return difference(studio, None, scene, page)


def difference(studio: Studio, before: Scene | None, after: Scene, only: int | None = None) -> Json:
    """What differs from `before`: the order of objects always, objects and nests that changed, shapes that are new; of
    `only` one page when that is given."""
    document = after.document
    same_head = before is not None and before.document.head == document.head
    old_objects = {t.id: (page, t) for page, t in before.document.objects()} if before and same_head else {}
    old_nests = {n.thing.id: n for n in before.nests} if before else {}
    shapes_known = {shape_key(n.nest.copy) for n in before.nests} if before and same_head else set()
    # What goes along into a line lets copy stand about it from then on.
    otherwise = document.in_line.keys() ^ (before.document.in_line if before else {}).keys()
    objects = {
        thing.id: object_json(studio, document, page, thing, after.nests.ems.get(thing.id))
        for page, thing in document.objects()
        if only in (None, page)
        and (
            (known := old_objects.get(thing.id)) is None
            or known[1] is not thing
            or known[0] != page
            or thing.id in otherwise
        )
    }
    nests: Json = {}
    shapes: Json = {}
    patches: Json = {}
    for placed in after.nests:
        old = old_nests.get(placed.thing.id)
        same = old and old.nest is placed.nest and old.page == placed.page and same_head
        same = same and old is not None and old.unsettled == placed.unsettled
        same = same and old is not None and (old.copy, old.version) == (placed.copy, placed.version)
        if not same or (placed.thing.recipe and old and old.thing is not placed.thing):
            nests[placed.thing.id] = nest_json(document, placed, studio.fonts)
        key = shape_key(placed.nest.copy)
        if key in shapes_known or key in shapes or key in patches:
            continue
        alike = _most_alike(placed, before.nests) if before is not None and same_head else None
        patch = patched(document, alike, placed.nest.copy) if alike is not None else None
        if patch is not None:
            patches[key] = patch
        else:
            shapes[key] = shape_json(document, placed.nest.copy.whole)
    return {
        "pages": [_page(before if same_head else None, after, i, only) for i in range(len(document.pages))],
        "objects": objects,
        "labels": _labels(before, after),
        "nests": nests,
        "nested": [n.thing.id for n in after.nests],
        "shapes": shapes,
        "patches": patches,
        "nowhere": after.nests.nowhere,
        "anchors": {
            identity: anchor_json(document, identity, placed, place)
            for identity, (placed, place) in after.nests.anchors.items()
            if document.page_of.get(placed.thing.id) is not None
        },
    }


def _page(before: Scene | None, after: Scene, index: int, only: int | None) -> Json | None:
    """A page; None where it is as it was."""
    document = after.document
    if only not in (None, index):
        return {**page_json(document, index, after.nests.leaders), "order": [], "groups": []}
    if before is not None and index < len(before.document.pages) and before.nests.leaders == after.nests.leaders:
        old, new = before.document.pages[index], document.pages[index]
        same = old.sheet is new.sheet and old.groups == new.groups
        if same and [t.id for t in old.objects] == [t.id for t in new.objects]:
            return None
    return page_json(document, index, after.nests.leaders)


def _labels(before: Scene | None, after: Scene) -> dict[str, str]:
    """What objects are called, of those that were called otherwise."""
    old = before.document.labels if before else {}
    return {identity: said for identity, said in after.document.labels.items() if old.get(identity) != said}


def anchor_json(document: Document, identity: str, placed: PlacedNest, place: InLinePlace) -> Json:
    """The place in the copy of an object that stands elsewhere: its frame, on that page the ends of a caret there,
    whether it hangs at the left, and whether its line begins there."""
    anchor = next((t.anchor for t in document.pages[document.page_of[identity]].objects if t.id == identity), None)
    left = anchor is None or is_on_left(document, placed.page, anchor, placed.nest, place.record)
    begins = starts_left(placed.nest, place.record)
    row = placed.nest.records[place.record]
    ends = [(place.left, float(row[k.TOP])), (place.left, float(row[k.BOTTOM]))]
    if placed.matrix is not None:
        ends = [path.at(placed.matrix, end) for end in ends]
    (x1, y1), (x2, y2) = ends
    return {
        "frame": placed.thing.id,
        "page": placed.page,
        "mark": [round(v, 3) for v in (x1, y1, x2, y2)],
        "left": left,
        "startsLeft": begins,
    }


def page_json(document: Document, index: int, leaders: Mapping[str, str | None]) -> Json:
    page = document.pages[index]
    width, height = page.sheet.size
    background = page.sheet.background
    return {
        "width": width,
        "height": height,
        "bleed": page.sheet.bleed.pt,
        "margins": page.sheet.margins.points(),
        "guides": {axis: [g.pt for g in getattr(page.sheet.guides, axis)] for axis in ("x", "y")},
        "background": _css(color_figure(document.head, background)) if background else None,
        "side": ("left" if index % 2 else "right") if document.head.facing else "alone",
        "order": [t.id for t in page.objects],
        "groups": [
            {
                "id": g.group.id,
                "name": g.group.name,
                "hidden": g.group.hidden,
                "locked": g.group.locked,
                "objects": list(g.objects),
                "inside": g.inside,
                "leader": leaders.get(g.group.id),
            }
            for g in page.groups
        ],
    }


def object_json(
    studio: Studio, document: Document, page: int, thing: PageObject, em: tuple[str, float] | None = None
) -> Json:
    """An object as it is drawn, in its own box: `matrix` takes that to the page. `em` is the frame that a clearance in
    ems goes by, and what one is in points."""
    x, y, width, height = thing.box
    path = kinds.path_of(thing.outline, width, height)
    fill = stroke = picture = None
    if thing.fill:
        rgb = tinted(color_figure(document.head, thing.fill.color), thing.fill.tint)
        fill = {"color": _css(rgb), "opacity": thing.fill.opacity}
    if thing.stroke:
        stroke = stroke_json(document, thing.stroke)
    if thing.picture:
        file = studio.pictures(thing.picture.file)
        picture = {
            "file": thing.picture.file,
            "place": placement(thing.picture, (file.width, file.height), width, height),
            "transparent": file.transparent,
            "clip": _clip(studio, thing),
            "ppi": round(resolution(thing.picture, (file.width, file.height), width, height)),
        }
    return {
        "id": thing.id,
        "page": page,
        "name": thing.name,
        "box": [x, y, width, height],
        "turn": thing.turn,
        "pivot": thing.pivot,
        "matrix": placing.matrix(thing),
        "path": to_svg(path, 3),
        "figures": kinds.figures_of(thing.outline, width, height),
        "fill": fill,
        "stroke": stroke,
        "picture": picture,
        "hidden": thing.hidden,
        "locked": thing.locked,
        "paint": thing.paint,
        "frame": thing.frame is not None,
        "copyName": thing.frame.copy_name if thing.frame else None,
        "ties": [{"edge": t.edge, "to": t.to, "its": t.its_edge} for t in thing.ties],
        "wrap": None if thing.id in document.in_line else _wrap_path(studio, thing),
        "em": {"of": em[0], "points": em[1]} if em else None,
        "contour": _contour(studio, thing),
        "follows": _follows(document, thing),
        "anchor": _anchor(document, page, thing),
    }


def _anchor(document: Document, page: int, thing: PageObject) -> Json | None:
    """How an object belongs to the copy, and whether it waits: its place in the copy is not set anywhere."""
    if thing.anchor is None:
        return None
    written: Any = document.raw
    for step in document.paths[thing.id]:
        written = written[step]
    return {
        **thing.anchor.model_dump(mode="json"),
        "outside": thing.anchor.outside,
        "waits": thing.hidden and not written.get("hidden", False),
    }


def _follows(document: Document, thing: PageObject) -> Json | None:
    """The recipe an object follows, in which of its rules it departs, and what it takes from it."""
    if thing.recipe is None:
        return None
    recipe = document.raw["recipes"][thing.recipe]
    return {
        "recipe": thing.recipe,
        "departs": list(thing.departs),
        "rules": recipes.given_by(recipe, thing.departs),
        "text": bool(recipe.get("text")) and recipes.TEXT not in thing.departs,
    }


def _text_departs(document: Document, placed: PlacedNest) -> list[str]:
    """The rules of its recipe's text style that a frame's paragraphs set otherwise."""
    style = document.text_style_of(placed.thing)
    if style is None:
        return []
    paragraphs = document.copies[placed.copy][placed.version].paragraphs
    fields = [f for f in style.model_fields_set if getattr(style, f) is not None]
    styled = any(p.style for p in paragraphs)
    return [f"text.{f}" for f in fields if styled or any(getattr(p, f) is not None for p in paragraphs)]


def stroke_json(document: Document, stroke: Stroke) -> Json:
    return {**_line_json(document, stroke), "position": stroke.position, "opacity": stroke.opacity}


def _contour(studio: Studio, thing: PageObject) -> Json | None:
    """The contour of an object's picture where copy runs by it: its path in the object's own box, how many points it
    has, how sure it is, or why there is none."""
    clipped = thing.picture is not None and thing.picture.clip == "contour"
    if thing.picture is None or (thing.wrap.by != "contour" and thing.contour is None and not clipped):
        return None
    try:
        found = studio.contours.found(thing)
    except NestLineError as error:
        return {"path": None, "points": 0, "confidence": None, "unsure": False, "fault": str(error)}
    unsure = found.confidence is not None and found.confidence < SURE
    return {"path": found.svg, "points": found.points, "confidence": found.confidence, "unsure": unsure, "fault": None}


def _clip(studio: Studio, thing: PageObject) -> str | None:
    """The contour that a picture is painted inside of, as path data in its object's own box."""
    found = clip_of(studio.contours, thing)
    return None if found is None else to_svg(found, 2)


def _wrap_path(studio: Studio, thing: PageObject) -> str | None:
    """Where the object lets no copy stand, as path data in its own box."""
    if thing.wrap.by == "none" or thing.hidden:
        return None
    try:
        return _region_path(own_wrap_region(thing, studio.contours))
    except NestLineError:  # a contour that cannot be found
        return None


_region_paths: OrderedDict[int, tuple[Region, str]] = OrderedDict()


def _region_path(region: Region) -> str:
    if found := _region_paths.get(id(region)):
        return found[1]
    out: list[str] = []
    for (x, y, _, _), start in zip(region.edges.round(2).tolist(), region.starts.tolist(), strict=True):
        out.append(f"{'ZM' if start and out else 'M' if start else 'L'}{x:g} {y:g}")
    path = "".join(out) + ("Z" if out else "")
    remember(_region_paths, id(region), (region, path), 500)
    return path


def shape_key(copy: ShapedCopy) -> str:
    """A key of everything a shaped copy's segments depend on, colours by name."""
    found = copy.__dict__.get("_shape_key")
    if found is None:
        digest = hashlib.blake2b(b"".join(map(_digest, copy.paragraphs)), digest_size=12)
        found = copy.__dict__["_shape_key"] = digest.hexdigest()
    return found


def _digest(paragraph: ShapedParagraph) -> bytes:
    """Of all that a shaped paragraph's words are drawn by."""
    found = paragraph.__dict__.get("_digest")
    if found is None:
        own, pairs = paragraph.segments
        digest = hashlib.blake2b(paragraph.text.encode(), digest_size=12)
        for part in (own, paragraph.running):
            digest.update(np.ascontiguousarray(part).tobytes())
        digest.update(repr(([(face.key, look) for face, look in pairs], paragraph.rules)).encode())
        found = paragraph.__dict__["_digest"] = digest.digest()
    return found


def shape_rules(document: Document, copy: ShapedCopy) -> list[Json]:
    """The different rules of a copy's paragraphs as they hold, in points."""
    return [
        {
            "size": round(r.size, 4),
            "leading": round(r.leading, 4),
            "align": r.align,
            "last": r.last,
            "spaceBefore": r.space_before,
            "spaceAfter": r.space_after,
            "firstIndent": r.first_indent,
            "font": r.look.font,
            "weight": r.look.weight,
            "fontWidth": r.look.width,
            "slope": r.look.slope,
            "color": _css(color_figure(document.head, r.look.color)),
            "colorName": r.look.color,
            "tracking": round(r.look.tracking, 4),
            "features": dict(r.look.features),
            "underline": r.look.underline,
            "letterStroke": _letter_stroke(document, r.look.stroke),
            "direction": r.direction,
            "style": r.style,
            "departs": list(r.departs) if r.style else [],
            "hangPunctuation": r.hang_punctuation,
            "grid": round(r.grid, 4),
            "list": r.list_mark.kind if r.list_mark else None,
            "breaking": r.breaking,
            "lastWord": {None: "avoided", True: "stands", False: "never"}[r.last_word_alone],
            "hyphenated": r.hyphenation is not None,
            "hyphenLimits": _limits(r.hyphenation),
            "together": list(r.together),
            "canHyphenate": has_patterns(r.language),
            "language": r.language,
            "stretch": r.stretch.model_dump(),
            "indent": r.indent,
            "keep": r.keep.model_dump() if r.keep else None,
            "dropCap": r.drop_cap.model_dump(mode="json") if r.drop_cap else None,
            "newColumn": r.new_column,
            "tabs": [t.model_dump(mode="json") for t in r.tabs],
        }
        for r in shape_numbers(copy)
    ]


def shape_json(document: Document, copy: ShapedCopy) -> Json:
    """A shaped copy: its text and its word segments, each in one look. Indices count code points."""
    s = copy.segments
    number = shape_numbers(copy)
    return {
        "rules": shape_rules(document, copy),
        "ruleOf": [number[p.rules] for p in copy.paragraphs],
        "fromRight": [p.base % 2 == 1 for p in copy.paragraphs],
        "text": copy.text,
        "start": s.start,
        "end": s.end,
        "look": s.look,
        "rtl": s.rtl,
        "width": s.width.round(3),
        "looks": [
            {
                "face": face.key,
                "size": look.size,
                "color": _css(color_figure(document.head, look.color)),
                "tracking": round(look.tracking, 4),
                "joined": look.joined,
                "stroke": _letter_stroke(document, look.stroke),
                "features": _asked(dict(look.features)),
                "fitted": _asked(fitted_features(face, dict(look.features))),
                "hyphen": hyphen_of(face),
                "font": look.font,
                "weight": look.weight,
                "fontWidth": look.width,
                "slope": look.slope,
                "colorName": look.color,
                "underline": look.underline,
                "tags": dict(look.features),
            }
            for face, look in s.looks
        ],
        "words": copy.words,
    }


def _asked(features: dict[str, int]) -> str:
    return ",".join(f"{'' if on else '-'}{tag}" for tag, on in features.items())


PATCHED = 20_000
"""Letters of a copy from which on a changed one goes out as what differs from how it was."""


def _most_alike(placed: PlacedNest, nests: Nests) -> ShapedCopy | None:
    """Of the shapes of a long copy that are known, the one that has most paragraphs in common with how it is now."""
    now = placed.nest.copy
    if len(now.text) < PATCHED:
        return None
    mine = {id(p) for p in now.paragraphs}
    known = {id(n.nest.copy): n.nest.copy for n in nests if (n.copy, n.version) == (placed.copy, placed.version)}
    return max(known.values(), key=lambda copy: sum(id(p) in mine for p in copy.paragraphs), default=None)


def patched(document: Document, old: ShapedCopy, new: ShapedCopy) -> Json | None:
    """What makes one shape of another: of its text, and of each list, the place from which on so much is replaced by
    what; None where they have no paragraphs in common. Places in the text count UTF-16 units; `shift` is what starts
    and ends behind the change are moved by, in code points."""
    a, b = old.paragraphs, new.paragraphs
    if old.segments.looks != new.segments.looks:
        return None
    head, tail = same_ends(a, b)
    if not head and not tail:
        return None
    if new.excerpt is not None and not (new.excerpt[0] <= head and len(b) - tail <= new.excerpt[1]):
        new = new.whole
    one, other = _Stretch(old, head, len(a) - tail), _Stretch(new, head, len(b) - tail)
    was, now = shape_numbers(old), shape_numbers(new)
    lists: Json = {
        "rules": None if was == now else [0, len(was), shape_rules(document, new)],
        "ruleOf": [head, len(a) - tail - head, [now[p.rules] for p in b[head : len(b) - tail]]],
        "fromRight": [head, len(a) - tail - head, [p.base % 2 == 1 for p in b[head : len(b) - tail]]],
    }
    if was != now:
        lists["ruleOf"] = [0, len(a), [now[p.rules] for p in b]]
    s = new.segments
    for name, values in (
        ("start", s.start),
        ("end", s.end),
        ("look", s.look),
        ("rtl", s.rtl),
        ("width", s.width.round(3)),
    ):
        lists[name] = [one.first, one.last - one.first, values[other.first : other.last]]
    units = [len(old.text[i:j].encode("utf-16-le")) // 2 for i, j in ((0, one.begin), (one.begin, one.end))]
    return {
        "of": shape_key(old),
        "text": [*units, new.text[other.begin : other.end]],
        "shift": len(new.text) - len(old.text),
        "lists": lists,
        "words": new.words,
    }


class _Stretch:
    """Some paragraphs of a copy: where their text begins and ends, and which of its words are theirs."""

    def __init__(self, copy: ShapedCopy, first: int, last: int) -> None:
        self.begin = min(int(copy.offset[first]), len(copy.text))
        self.end = min(int(copy.offset[last]), len(copy.text))
        self.first, self.last = (int(n) for n in np.searchsorted(copy.segments.start, [self.begin, self.end]))
        if last == len(copy.paragraphs):
            self.last = len(copy.segments.start)


def shape_numbers(copy: ShapedCopy) -> dict[Rules, int]:
    """The different rules of a copy's paragraphs, numbered in their order."""
    found: dict[Rules, int] | None = copy.__dict__.get("_numbers")
    if found is None:
        seen: dict[int, Rules] = {id(p.rules): p.rules for p in copy.paragraphs}
        found = copy.__dict__["_numbers"] = {rules: n for n, rules in enumerate(dict.fromkeys(seen.values()))}
    return found


def _limits(hyphenation: Hyphenation | None) -> Json | None:
    if hyphenation is None:
        return None
    return {name: getattr(hyphenation, name) for name in ("before", "after", "least", "ladder", "capitals")}


METRICS = {"ascender": k.ASC, "descender": k.DESC, "up": k.BOX_UP, "down": k.BOX_DOWN, "cap": k.CAP, "ex": k.EX}


def _metrics(copy: ShapedCopy) -> dict[str, float]:
    """The heights of the first letters by which a first line hangs and a last one stands, as shares of their
    type size."""
    if not len(copy.pieces):
        return dict.fromkeys(METRICS, 0.0)
    return {name: round(float(copy.pieces[0, column]) / copy.size, 4) for name, column in METRICS.items()}


def nest_json(document: Document, placed: PlacedNest, fonts: FontLibrary) -> Json:
    """A nest: `records` by rows.SCREEN_RECORD, lengths in points from the page's trim corner, and the x of every word
    segment in order."""
    nest = placed.nest
    rule = placed.thing.frame.column_rule if placed.thing.frame else None
    n = len(nest.records)
    drawn = nest.drawn
    counts = np.bincount(drawn.record, minlength=n) if n else np.zeros(0, dtype=np.int64)
    first = np.zeros(n, dtype=np.int64)
    if len(drawn.record):
        starts = np.searchsorted(drawn.record, np.arange(n))
        has = counts > 0
        first[has] = drawn.segment[starts[has]]
    r, ranges = nest.records, nest.ranges
    columns = {
        "line": r[:, k.LINE],
        "baseline": r[:, k.BASELINE],
        "top": r[:, k.TOP],
        "bottom": r[:, k.BOTTOM],
        "slotLeft": r[:, k.LEFT],
        "slotRight": r[:, k.RIGHT],
        "left": nest.left,
        "right": nest.right,
        "start": ranges[:, k.RANGE_START],
        "end": ranges[:, k.RANGE_END],
        "past": r[:, k.PAST],
        "firstWord": first,
        "words": counts,
        "hyphen": nest.hyphens,
        "tracking": nest.tracks,
        "wide": nest.factors,
    }
    table = np.column_stack([columns[name] for name in k.SCREEN_RECORD]).round(3)
    table[:, k.SCREEN_RECORD.index("wide")] = nest.factors.round(6)
    return {
        "id": placed.thing.id,
        "page": placed.page,
        "copyName": placed.copy,
        "version": placed.version,
        "shape": shape_key(nest.copy),
        "matrix": placed.matrix,
        "records": table.ravel(),
        "x": drawn.x.round(3),
        "marks": [
            {
                "text": m.text,
                "face": m.face.key,
                "size": m.look.size,
                "x": round(m.x, 3),
                "baseline": round(m.baseline, 3),
                "color": _css(color_figure(document.head, m.look.color)),
            }
            for m in (*marks(nest), *drop_caps(nest))
        ],
        "underlines": [
            {
                "left": round(u.left, 3),
                "right": round(u.right, 3),
                "y": round(u.y, 3),
                "thickness": round(u.thickness, 3),
                "color": _css(color_figure(document.head, u.color)),
            }
            for u in underlines(nest)
        ],
        "columnRules": [tuple(round(v, 3) for v in line) for line in column_rules(nest)] if rule else [],
        "columnStroke": stroke_json(document, rule) if rule else None,
        "lines": nest.lines,
        "size": nest.copy.size,
        "metrics": _metrics(nest.copy),
        "factor": round(placed.factor, 4),
        "fill": round(nest.fill, 4),
        "residue": round(nest.residue, 3),
        "opened": round(nest.opened, 4),
        "exact": nest.exact,
        "loose": int(nest.loose.sum()),
        "broken": nest.broken,
        "missing": sum(len(p.missing) for p in nest.copy.paragraphs),
        "fallback": sorted({s.face.family for p in nest.copy.paragraphs for s in p.stretches if s.fallback}),
        "absent": [
            {"family": family, "by": fonts.face(family).family}
            for family in sorted({s.look.font for p in nest.copy.paragraphs for s in p.stretches})
            if not fonts.has_family(family)
        ],
        "words": nest.copy.words,
        "held": nest.held,
        "wordsHeld": nest.words_held,
        "chain": _chain(document, placed.thing, nest.copy),
        "gives": _gives(document, placed.thing),
        "numbers": placed.numbers,
        "leftover": nest.leftover_words,
        "leftoverStart": nest.leftover_start,
        "lacks": _lacks(nest.lacks),
        "pushedBy": list(dict.fromkeys(filter(None, nest.wrap_ids))) if nest.leftover_words else [],
        "clipped": nest.rules.ends == "at-the-edge" and (nest.leftover_words > 0),
        "ends": nest.rules.ends,
        "unsettled": placed.unsettled,
        "textDeparts": _text_departs(document, placed),
        "capacity": nest.capacity,
        "loosest": round(nest.loosest, 3),
        "gaps": nest.has_wide_gaps,
        "rivers": len(rivers(nest)),
        "uneven": round(evenness(nest), 3),
        "bounds": nest.padded.bounds if not nest.padded.empty else None,
        "cures": cures(placed.thing.id) if nest.leftover_words else [],
        "proposal": capitals(placed.thing.id) if _in_capitals(placed) else None,
    }


def _lacks(found: tuple[str, float] | None) -> Json | None:
    return None if found is None else {"axis": found[0], "points": round(found[1], 2)}


def _chain(document: Document, thing: PageObject, copy: ShapedCopy) -> Json | None:
    """A frame's place in its chain: its number, of how many, and the frames before and after it; and how jump lines
    lead on and back in its language."""
    chain = document.chain_of.get(thing.id)
    if chain is None:
        return None
    return {
        "place": chain.index(thing.id),
        "frames": list(chain),
        "before": document.beside_in_chain(thing.id, -1),
        "after": document.beside_in_chain(thing.id, 1),
        "continued": continued(copy.paragraphs[0].rules.language if copy.paragraphs else "en") or CONTINUED["en"],
    }


def _gives(document: Document, thing: PageObject) -> bool:
    return thing.frame is not None and may_give(thing.frame, document.beside_in_chain(thing.id, 1) is not None)


def _in_capitals(placed: PlacedNest) -> bool:
    """Whether copy in capitals hangs or stands by heights that its letters do not have, so that it looks off the
    middle."""
    frame = placed.thing.frame
    if frame is None or (frame.hang == "cap" and frame.stand == "baseline"):
        return False
    return placed.nest.copy.in_capitals


def _letter_stroke(document: Document, stroke: LetterStroke | None) -> Json | None:
    if stroke is None:
        return None
    second = stroke.second
    return {
        **_line_json(document, stroke),
        "position": stroke.position,
        "second": None
        if second is None
        else {
            "color": _css(color_figure(document.head, second.color)),
            "width": second.width.pt,
            "join": second.join,
        },
    }


def _line_json(document: Document, stroke: Line) -> Json:
    return {
        "color": _css(color_figure(document.head, stroke.color)),
        "width": stroke.width.pt,
        "dash": stroke.dashes,
        "cap": stroke.cap,
        "join": stroke.join,
    }


def _css(rgb: tuple[float, float, float]) -> str:
    return "#" + "".join(f"{round(c * 255):02x}" for c in rgb)
