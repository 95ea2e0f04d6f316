"""What an act's operations are completed by, so that nothing names what they take away; and parts of documents as
written."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from nestline.acts.acting import Acting
from nestline.document import edits
from nestline.document.edits import Operation, Raw
from nestline.document.model import PageObject
from nestline.document.reading import Document


def completed(at: Acting, operations: list[Operation]) -> list[Operation]:
    """An act's operations, and those by which nothing names what they take away: chains close over it, ties to it and
    its places in copies are let go, and page numbers that were those of such a frame are of their own."""
    chained = _with_whole_chains(at.document.raw, operations)
    if all(o["at"][0] == "objects" and len(o["at"]) > 2 for o in operations):
        return chained  # fields of objects, as in every drag: nothing is taken away
    return _with_live_ties(at, _with_live_names(at, chained))


def _with_live_names(at: Acting, operations: list[Operation]) -> list[Operation]:
    """Operations, and those that take the names of what they take away out of copies: places of objects, and frames
    whose page a number says."""
    named = {
        name
        for versions in at.document.copies.values()
        for content in versions.values()
        for paragraph in content.paragraphs
        for run in paragraph.runs
        for name in (run.of, run.object)
        if name is not None
    }
    if not operations or not named:
        return operations
    after, out = edits.apply(at.document.raw, operations).document, list(operations)
    gone = named.difference(t["id"] for page in after["pages"] for t in leaves_of(page.get("objects", [])))
    for name, copy in after.get("copies", {}).items() if gone else ():
        for version, content in copy["versions"].items():
            old = content.get("paragraphs", [])
            left = [_with_own_numbers(paragraph, gone) for paragraph in without_object(old, gone)]
            for i, (now, was) in enumerate(zip(left, old, strict=True)):
                if now != was:
                    path = ["copies", name, "versions", version, "paragraphs", i, "runs"]
                    out.append({"do": "put", "at": path, "value": now["runs"]})
    return out


def _with_own_numbers(paragraph: Raw, gone: set[str]) -> Raw:
    """A paragraph whose page numbers name none of some frames."""
    if not any(run.get("of") in gone for run in paragraph.get("runs", [])):
        return paragraph
    runs = [{k: v for k, v in r.items() if k != "of" or v not in gone} for r in paragraph["runs"]]
    return {**paragraph, "runs": runs}


def without_object(paragraphs: list[Raw], objects: set[str]) -> list[Raw]:
    """Paragraphs without the runs of some objects; runs that look the same are joined again."""
    out = []
    for paragraph in paragraphs:
        runs: list[Raw] = []
        for run in paragraph.get("runs", []):
            if run.get("object") in objects:
                continue
            alike = runs and not any(one.get("object") or one.get("field") for one in (run, runs[-1]))
            if alike and {**runs[-1], "text": ""} == {**run, "text": ""}:
                runs[-1] = {**run, "text": runs[-1].get("text", "") + run.get("text", "")}
            else:
                runs.append(run)
        out.append({**paragraph, "runs": runs} if runs != paragraph.get("runs", []) else paragraph)
    return out


def leaves_of(things: Iterable[Raw]) -> Iterator[Raw]:
    """The objects in a list of objects and groups, back to front."""
    for thing in things:
        if "objects" in thing:
            yield from leaves_of(thing["objects"])
        else:
            yield thing


def stay(thing: PageObject, stands: PageObject) -> list[Operation]:
    """The operations that write an object down where it stands."""
    fields = zip(
        ("x", "y", "width", "height", "turn"), (*stands.box, stands.turn), (*thing.box, thing.turn), strict=True
    )
    return [
        {"do": "put", "at": ["objects", thing.id, name], "value": round(new, 4)}
        for name, new, old in fields
        if new != old
    ]


def _with_live_ties(at: Acting, operations: list[Operation]) -> list[Operation]:
    """Operations, and those by which what was tied to an object that they take from its page is tied no longer."""
    if not operations or not any(t.ties for _, t in at.document.objects()):
        return operations
    after, out = edits.apply(at.document.raw, operations).document, list(operations)
    for page in after["pages"]:
        things = list(leaves_of(page.get("objects", [])))
        here = {raw["id"] for raw in things}
        for raw in things:
            ties = raw.get("ties", [])
            kept = [tie for tie in ties if tie["to"] in here]
            if kept == ties:
                continue
            path: list[str | int] = ["objects", raw["id"], "ties"]
            out.append({"do": "put", "at": path, "value": kept} if kept else {"do": "cut", "at": path})
    return out


def _with_whole_chains(raw: Raw, operations: list[Operation]) -> list[Operation]:
    """An act's operations, and one that closes chains over frames that they take away."""
    if not raw.get("chains") or not operations:
        return operations
    after = edits.apply(raw, operations).document
    things = (t for page in after["pages"] for t in leaves_of(page.get("objects", [])) if t.get("frame"))
    copies = {t["id"]: t["frame"].get("copy") for t in things}
    chains = []
    for chain in after.get("chains", []):
        left = [i for i in chain if i in copies]
        left = [i for i in left if copies[i] == copies[left[0]]]
        if len(left) > 1:
            chains.append(left)
    if chains == after.get("chains", []):
        return operations
    return [*operations, {"do": "put", "at": ["chains"], "value": chains}]


def chain_put(document: Document, new_names: dict[str, str]) -> list[Operation]:
    """The operation that gives frames' places in chains to others; none where no chain changes."""
    old = [list(chain) for chain in document.head.chains]
    made = [[new_names.get(i, i) for i in chain] for chain in old]
    return [] if made == old else [{"do": "put", "at": ["chains"], "value": made}]
