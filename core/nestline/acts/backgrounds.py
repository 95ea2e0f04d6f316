"""Pictures that are put behind copy start as its background."""

from __future__ import annotations

from typing import Any

from nestline.acts.acting import Acting
from nestline.document import edits
from nestline.document.edits import Operation, Raw
from nestline.document.model import PageObject
from nestline.nesting.wrapping import share_on

BACKGROUND = 0.6
"""The share of a frame, or of the page, that a picture behind covers when it starts as background."""


def backgrounds(at: Acting, before: Raw, operations: list[Operation]) -> list[Operation]:
    """Operations that change the stacking order, and those by which pictures that they put behind copy, and that cover
    most of it or of the page, start as background: they push no copy. Written down, it is the designer's to change."""
    if not operations:
        return operations
    after = at.studio.read(edits.apply(before, operations).document)
    out = list(operations)
    for old, page in zip(at.document.pages, after.pages, strict=True):
        was = {t.id: place for place, t in enumerate(old.objects)}
        frames = [(place, t) for place, t in enumerate(page.objects) if t.frame is not None and not t.hidden]
        sheet = PageObject.model_validate({"id": "page", "x": 0, "y": 0, **_sizes(page.sheet.size)})
        for place, thing in enumerate(page.objects):
            if thing.picture is None or thing.wrap.by == "none" or thing.wrap.inside or thing.id not in was:
                continue
            newly = [f for at_, f in frames if at_ > place and was.get(f.id, -1) < was[thing.id]]
            if newly and (share_on(sheet, thing) >= BACKGROUND or any(share_on(f, thing) >= BACKGROUND for f in newly)):
                value: dict[str, Any] = {**_wrap_of(after.raw, after.paths[thing.id]), "by": "none"}
                out.append({"do": "put", "at": ["objects", thing.id, "wrap"], "value": value})
    return out


def _sizes(size: tuple[float, float]) -> Raw:
    return {"width": size[0], "height": size[1]}


def _wrap_of(raw: Raw, path: tuple[str | int, ...]) -> Raw:
    part: Any = raw
    for step in path:
        part = part[step]
    return dict(part.get("wrap") or {})
