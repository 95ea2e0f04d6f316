"""Documents between their rows and the open format."""

from __future__ import annotations

import secrets
from collections import OrderedDict
from dataclasses import dataclass, replace
from functools import partial
from threading import RLock
from typing import Any

import orjson
from django.db.models import F, Func, JSONField, OuterRef, QuerySet, Value

from documents.models import Copy, Document, Page
from documents.reach import NEEDS, Need, allowed, check, gone
from documents.studios import adopt, fonts_within, keep_last, let_go, mark_of, new_studio, studio_of
from doors.compiled import Compiled
from nestline.document.edits import grafted
from nestline.remembering import remember as few
from nestline.scene import Scene, scene_of
from nestline.studio import Studio

Raw = dict[str, Any]


@dataclass(frozen=True)
class State:
    """A document at one revision, read and nested; where it is not `whole`, what a window sees of it alone, the other
    pages being as they were."""

    revision: int
    raw: Raw
    scene: Scene
    studio: Studio
    lock: RLock
    whole: bool = True


_states: OrderedDict[int, State] = OrderedDict()
_lock = RLock()
_MOST, _MOST_PAGES = 64, 150
"""How many documents are remembered, and how many pages of them all; the last one always is."""
_sent: OrderedDict[str, tuple[int, Scene]] = OrderedDict()
"""What windows of large documents show, with the document's number, by the names that it was sent under: what differs
is told from that."""
_MOST_SENT, _MOST_SENT_OF_ONE = 24, 3
FEW = 4
"""Paragraphs of a copy that are written one by one."""
SMALL = 6
"""Pages of a document that is nested whole before it is shown."""


def _reached(need: Need, document_id: int, user_id: int) -> QuerySet[Document]:
    return Document.objects.filter(allowed(user_id, need), id=document_id, deleted=None)


_COLUMNS = [field.attname for field in Document._meta.concrete_fields]


def _columns_of(need: Need, document_id: int, user_id: int) -> QuerySet[Document, tuple[Any, ...]]:
    return _reached(need, document_id, user_id).values_list(*_COLUMNS)


_rows = {need: Compiled(partial(_columns_of, need), int, int) for need in NEEDS}
_locked = Compiled(
    lambda document_id, user_id: (
        _reached("edit", document_id, user_id).select_for_update(of=("self",)).values_list("revision")
    ),
    int,
    int,
)


def document_for(user_id: int, document_id: int, need: Need) -> Document:
    """A document that is not deleted, for a user who may do with it what is needed. Raises Gone, Refused."""
    for row in _rows[need](document_id, user_id):
        found = dict(zip(_COLUMNS, row, strict=True))
        found["head"] = orjson.loads(found["head"])
        return Document.from_db("default", _COLUMNS, list(found.values()))
    check(user_id, document_id, need)
    raise gone()


def locked_revision(user_id: int, document_id: int) -> int:
    """The revision of a document that a user may change, its row locked until the transaction ends. Raises Gone,
    Refused."""
    for (revision,) in _locked(document_id, user_id):
        return int(revision)
    check(user_id, document_id, "edit")
    raise gone()


def raw_of(row: Document) -> Raw:
    """A document's rows as one document of the open format."""
    copies: Raw = {}
    for copy in row.copies.all():
        versions = copies.setdefault(copy.name, {"versions": {}})["versions"]
        known = {"language": copy.language, "paragraphs": copy.paragraphs}
        versions[copy.version] = known if copy.source is None else {**known, "source": copy.source}
    pages = [{**page.sheet, "objects": page.objects_json} for page in row.pages.all()]
    return {"format": "nest-line", "version": 1, "title": row.title, **row.head, "copies": copies, "pages": pages}


def _remembered(document_id: int, revision: int) -> State | None:
    """A document's state in this process's memory, when it is of that revision."""
    with _lock:
        state = _states.get(document_id)
        if state is None or state.revision != revision:
            return None
        _states.move_to_end(document_id)
        return state


def state_of(row: Document, part: bool = False) -> State:
    """A document's state, from this process's memory when it is current; with `part` one of which only what was seen is
    nested will do."""
    if state := _standing(row, part):
        return state
    with studio_of(row.owner_id, row.id)[1]:
        if state := _standing(row, part):  # whoever asked before has worked it out
            return state
        with _lock:
            older = _states.get(row.id)
        if older and older.revision == row.revision:
            return remember(row, state_from(row, older.raw))
        raw = raw_of(row)
        return remember(row, state_from(row, grafted(older.raw, raw) if older else raw))


def _standing(row: Document, part: bool) -> State | None:
    """The state that this process remembers, where it is current, and of the same studio still: unless the user brought
    or took away a font since."""
    state = _remembered(row.id, row.revision)
    if state is None or not (state.whole or part):
        return None
    studio, _ = studio_of(row.owner_id, row.id, before=(state.studio, state.lock))
    return state if state.studio is studio else None


_marks = Compiled(
    lambda document_id, user_id: _reached("see", document_id, user_id).values_list(
        "owner_id", "revision", fonts_within(OuterRef("owner_id"))
    ),
    int,
    int,
)
"""A document's owner and revision, and the mark of the owner's fonts."""


def current_state(user_id: int, document_id: int) -> State:
    """The state of a document that a user may see, with one small query where this process remembers it. Raises
    Gone."""
    for owner_id, revision, mark in _marks(document_id, user_id):
        state = _remembered(document_id, revision)
        if state and state.whole:
            studio, _ = studio_of(owner_id, document_id, tuple(mark), (state.studio, state.lock))
            if state.studio is studio:
                return state
    return state_of(document_for(user_id, document_id, "see"))


def first_page(row: Document) -> State | None:
    """A large document with its first page nested and no other, so that it is seen soon; None where this process has
    the whole, or it is small. Raises NestLineError."""
    if _remembered(row.id, row.revision) or row.pages.count() <= SMALL:
        return None
    raw = raw_of(row)
    studio, lock = studio_of(row.owner_id, row.id)
    with lock:
        return State(row.revision, raw, scene_of(studio, studio.read(raw), [0]), studio, lock)


def state_from(row: Document, raw: Raw) -> State:
    """Read and nest a document's raw form for its owner. Raises NestLineError; nothing is stored."""
    return _nested(row.revision, raw, *studio_of(row.owner_id, row.id))


def _nested(revision: int, raw: Raw, studio: Studio, lock: RLock, new: bool = False) -> State:
    with lock:
        document = studio.read(raw)
        (studio.check_whole if new else studio.check_pictures)(document)
        return State(revision, raw, scene_of(studio, document), studio, lock)


def _pages(state: State) -> int:
    return len(state.scene.document.pages)


def remember(row: Document, state: State) -> State:
    with _lock:
        _states[row.id] = state
        _states.move_to_end(row.id)
        while len(_states) > 1 and (len(_states) > _MOST or sum(map(_pages, _states.values())) > _MOST_PAGES):
            _states.popitem(last=False)
    tidy()
    return state


def sent(document_id: int, scene: Scene) -> str:
    """Keep what is sent to a window; the name under which it says that it shows it."""
    name = secrets.token_hex(8)
    with _lock:
        few(_sent, name, (document_id, scene), _MOST_SENT)
        same = [one for one, (of, _) in _sent.items() if of == document_id]
        for one in same[:-_MOST_SENT_OF_ONE]:
            del _sent[one]
    return name


def shown(name: str) -> Scene | None:
    """What a window shows that names it; None where this process does not know it (any more)."""
    with _lock:
        found = _sent.get(name)
        return found[1] if found else None


def is_large(state: State) -> bool:
    """Whether a document goes out page by page."""
    return len(state.scene.document.pages) > SMALL


def tidy() -> None:
    """Forget documents that were not asked for the longest, where all that is kept takes too much memory."""
    for document_id in let_go():
        with _lock:
            _states.pop(document_id, None)


def forget_others() -> None:
    """Forget all documents but the one used last."""
    last = keep_last()
    with _lock:
        for other in [one for one in _states if one != last]:
            del _states[other]
        for one in [one for one, (of, _) in _sent.items() if of != last]:
            del _sent[one]


def create(owner_id: int, raw: Raw) -> Document:
    """Store a new document. Raises NestLineError (in its JSON path) when it is not valid. Call inside a transaction."""
    row = Document(owner_id=owner_id, revision=1)
    mark = mark_of(owner_id)
    studio = new_studio(owner_id, mark)
    state = _nested(1, raw, studio, RLock(), new=True)
    row.title, row.head = _title_and_head(raw)
    row.save()
    _write_pages(row, raw)
    for name in raw.get("copies", {}):
        _write_copy(row, raw, name)
    # What was worked out to check it is there when it is opened.
    studio, lock = adopt(row.id, studio, RLock(), mark)
    remember(row, replace(state, studio=studio, lock=lock))
    return row


def write(row: Document, before: Raw, raw: Raw, touched: frozenset[tuple[Any, ...]]) -> None:
    """Write the rows that an edit touched; the rows are as they were `before`."""
    kinds = {part[0] for part in touched}
    if "head" in kinds:
        row.title, row.head = _title_and_head(raw)
    if "pages" in kinds:
        row.pages.all().delete()
        _write_pages(row, raw)
    if "copies" in kinds:
        row.copies.all().delete()
    for part in touched:
        if part[0] == "page" and "pages" not in kinds:
            page = raw["pages"][part[1]]
            sheet = {k: v for k, v in page.items() if k != "objects"}
            Page.objects.filter(document=row, position=part[1]).update(
                sheet=sheet, objects_json=page.get("objects", [])
            )
        elif part[0] == "copy" and part[2] is not None and "copies" not in kinds:
            version = raw.get("copies", {}).get(part[1], {}).get("versions", {}).get(part[2])
            found = Copy.objects.filter(document=row, name=part[1], version=part[2])
            if version is None:  # made and typed into in one step, which was undone
                found.delete()
            elif not found.update(
                paragraphs=_paragraphs(before, raw, part),
                language=version.get("language", part[2]),
                source=Value(version.get("source"), JSONField()),
            ):
                _write_copy(row, raw, part[1])
        elif part[0] == "copy" and "copies" not in kinds:
            row.copies.filter(name=part[1]).delete()
            if part[1] in raw.get("copies", {}):
                _write_copy(row, raw, part[1])
    if "copies" in kinds:
        for name in raw.get("copies", {}):
            _write_copy(row, raw, name)


def _paragraphs(before: Raw, raw: Raw, part: tuple[Any, ...]) -> Any:
    """The paragraphs of a version of a copy for its row: where few of many have changed, those alone go to the
    database."""
    _, name, version = part
    now: list[Raw] = raw["copies"][name]["versions"][version].get("paragraphs", [])
    was = before.get("copies", {}).get(name, {}).get("versions", {}).get(version, {}).get("paragraphs", [])
    changed = [n for n, (a, b) in enumerate(zip(was, now, strict=False)) if a is not b]
    if len(was) != len(now) or len(changed) > FEW < len(now):
        return now
    found: Any = F("paragraphs")
    for n in changed:
        # Without its parameter of its own kind the value would be an empty object where it is None.
        found = Func(found, Value(f"{{{n}}}"), Value(now[n], JSONField()), function="jsonb_set")
    return found


def _title_and_head(raw: Raw) -> tuple[str, Raw]:
    left_out = ("format", "version", "title", "copies", "pages")
    return raw.get("title", ""), {k: v for k, v in raw.items() if k not in left_out}


def _write_pages(row: Document, raw: Raw) -> None:
    Page.objects.bulk_create(
        Page(
            document=row,
            position=i,
            sheet={k: v for k, v in page.items() if k != "objects"},
            objects_json=page.get("objects", []),
        )
        for i, page in enumerate(raw["pages"])
    )


def _write_copy(row: Document, raw: Raw, name: str) -> None:
    position = list(raw["copies"]).index(name)
    Copy.objects.filter(document=row, name=name).delete()
    Copy.objects.bulk_create(
        Copy(
            document=row,
            name=name,
            version=version,
            position=position,
            language=value.get("language", version),
            paragraphs=value.get("paragraphs", []),
            source=value.get("source"),
        )
        for version, value in raw["copies"][name]["versions"].items()
    )
