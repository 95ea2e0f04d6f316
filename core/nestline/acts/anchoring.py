"""Objects that belong to the copy: put in line, moved to other words, let go."""

from __future__ import annotations

from typing import Any

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.following import settled_thing
from nestline.acts.grouping import Move as Restack
from nestline.acts.grouping import restack
from nestline.document.edits import Operation, Raw

Runs = list[Raw]


def length_of(run: Raw) -> int:
    return 1 if run.get("object") else len(run.get("text", ""))


def without_object(paragraphs: list[Raw], objects: set[str]) -> list[Raw]:
    """Paragraphs without the runs of some objects; runs that look the same are joined again."""
    out = []
    for paragraph in paragraphs:
        runs: Runs = []
        for run in paragraph.get("runs", []):
            if run.get("object") in objects:
                continue
            alike = runs and not run.get("object") and not runs[-1].get("object")
            if alike and {**runs[-1], "text": ""} == {**run, "text": ""}:
                runs[-1] = {**run, "text": runs[-1].get("text", "") + run.get("text", "")}
            else:
                runs.append(run)
        out.append({**paragraph, "runs": runs} if runs != paragraph.get("runs", []) else paragraph)
    return out


def with_object(paragraphs: list[Raw], object_id: str, at: int) -> list[Raw]:
    """Paragraphs with an object's run at a code point of the copy, a paragraph's end counting one."""
    out = [dict(p) for p in paragraphs] or [{"runs": []}]
    for number, paragraph in enumerate(out):
        runs: Runs = list(paragraph.get("runs", []))
        length = sum(length_of(run) for run in runs)
        if at > length and number < len(out) - 1:
            at -= length + 1
            continue
        at = min(at, length)
        made: Runs = []
        put = False
        for run in runs:
            size = length_of(run)
            if not put and at <= size:
                if at > 0:
                    made.append({**run, "text": run["text"][:at]} if at < size else run)
                made.append({"object": object_id})
                if at < size:
                    made.append({**run, "text": run["text"][at:]} if at > 0 else run)
                put = True
            else:
                made.append(run)
            at -= size if not put else 0
        paragraph["runs"] = made if put else [*made, {"object": object_id}]
        return out
    return out


class PutInLine(Given):
    object: str
    frame: str
    at: int = 0
    """The code point of the frame's copy that it stands before."""
    version: str | None = None


@act("put-in-line", PutInLine)
def put_in_line(at: Acting, given: PutInLine) -> list[Operation]:
    """Put an object into a frame's copy like a letter, or move one that stands in copy to other words.

    Versions that are not shown get it where their copy begins, or where it ends.
    """
    page, index, thing = at.place(given.object)
    host_page, host_index, host = at.place(given.frame)
    if host.frame is None:
        raise ActError(f"“{host.label}” holds no copy for “{thing.label}” to stand in")
    if host.id == thing.id or (thing.frame is not None and thing.frame.copy_name == host.frame.copy_name):
        raise ActError("an object cannot stand in its own copy")
    if page != host_page:
        raise ActError("the object and the frame are on different pages")
    if thing.frame is not None and _stands_in(at, host.id, thing.frame.copy_name):
        raise ActError(f"“{host.label}” stands in the copy of “{thing.label}” itself")
    out = _taken_out(at, thing.id, but=host.frame.copy_name)
    if index < host_index:  # else the frame's own fill would hide it
        out += restack(at, Restack(object=thing.id, above=host.id))
    name = host.frame.copy_name
    shown, _ = at.document.version_of(name, given.version)
    for version, content in at.document.raw["copies"][name]["versions"].items():
        old = content.get("paragraphs", [])
        where = given.at if version == shown or given.at == 0 else 10**9
        for paragraph_start, run in _places(old):
            if run.get("object") == thing.id and paragraph_start < where:
                where -= 1  # it goes from before its new place
        made = with_object(without_object(old, {thing.id}), thing.id, max(where, 0))
        path: list[str | int] = ["copies", name, "versions", version, "paragraphs"]
        out.append({"do": "splice", "at": path, "from": 0, "remove": len(old), "insert": made})
    if thing.anchor is None:
        out.append({"do": "put", "at": ["objects", thing.id, "anchor"], "value": {"place": "in-line"}})
    return out


def _places(paragraphs: list[Raw]) -> list[tuple[int, Raw]]:
    """Every run with the code point at which it begins."""
    out, at = [], 0
    for paragraph in paragraphs:
        for run in paragraph.get("runs", []):
            out.append((at, run))
            at += length_of(run)
        at += 1
    return out


def _stands_in(at: Acting, object_id: str, copy: str) -> bool:
    """Whether an object stands in a copy, or in one that stands in it."""
    for content in at.document.copies[copy].values():
        for paragraph in content.paragraphs:
            for run in paragraph.runs:
                if run.object is None:
                    continue
                inner = at.thing(run.object)
                if run.object == object_id or (inner.frame and _stands_in(at, object_id, inner.frame.copy_name)):
                    return True
    return False


def _taken_out(at: Acting, object_id: str, but: str | None = None) -> list[Operation]:
    """The operations that take an object's runs out of every copy (`but` one)."""
    out: list[Operation] = []
    for name, copy in at.document.raw.get("copies", {}).items():
        for version, content in copy["versions"].items():
            old: list[Any] = content.get("paragraphs", [])
            made = without_object(old, {object_id})
            if name != but and made != old:
                path: list[str | int] = ["copies", name, "versions", version, "paragraphs"]
                out.append({"do": "splice", "at": path, "from": 0, "remove": len(old), "insert": made})
    return out


class Release(Given):
    object: str
    version: str | None = None


@act("release", Release)
def release(at: Acting, given: Release) -> list[Operation]:
    """Let an object go from the copy: it stays where it stands, and belongs to the page."""
    thing = at.thing(given.object)
    if thing.anchor is None:
        raise ActError(f"“{thing.label}” stands in no copy")
    after = settled_thing(at, thing.id, given.version)
    out = _taken_out(at, thing.id)
    out.append({"do": "cut", "at": ["objects", thing.id, "anchor"]})
    for name, new, old in zip(("x", "y", "width", "height"), after.box, thing.box, strict=True):
        if new != old:
            out.append({"do": "put", "at": ["objects", thing.id, name], "value": round(new, 4)})
    if after.turn != thing.turn:
        out.append({"do": "put", "at": ["objects", thing.id, "turn"], "value": after.turn})
    return out
