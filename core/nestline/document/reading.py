"""JSON in: a raw document becomes a `Document` of frozen parts, or a DocumentError that names the field.

Raw parts are shared between one state of a document and the next (see `edits`), so each part is parsed once and
remembered by identity: after a keystroke only the touched paragraph is read again.
"""

from __future__ import annotations

import re
from collections import OrderedDict
from collections.abc import Iterator, Mapping, Set
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from nestline.document import recipes
from nestline.document.colors import BUILT_IN_COLORS
from nestline.document.loops import loop_of
from nestline.document.model import Group, Head, PageObject, PageSheet, Paragraph, Source, TextStyle
from nestline.document.naming import labels_of
from nestline.errors import DocumentError, json_path
from nestline.remembering import remember

Raw = dict[str, Any]
TAG = r"[a-z]{2,3}(-[A-Za-z0-9]{1,8})*"
"""A BCP 47 tag, as versions are often named by."""
P = TypeVar("P", bound=BaseModel)


MOST_HEADS = 50
"""How many heads a reader remembers."""
MOST_COPY_NAME, MOST_VERSION_NAME, MOST_TAG = 200, 80, 35
"""Letters of the name of a copy and of a version, and of a language's tag (RFC 5646, 4.4.1)."""


def _check_name(name: str, most: int, what: str, path: tuple[str | int, ...]) -> None:
    if len(name) > most:
        raise DocumentError(
            json_path((*path[:-1], name[:20] + "…")), f"the name of a {what} has at most {most} letters"
        )


@dataclass(frozen=True)
class Version:
    """The paragraphs of one version of a copy."""

    language: str
    paragraphs: tuple[Paragraph, ...]
    source: Source | None = None


@dataclass(frozen=True)
class Grouped:
    """A group of a page: the objects in it, those of groups within it too, back to front, and the group it is in."""

    group: Group
    objects: tuple[str, ...]
    inside: str | None


@dataclass(frozen=True)
class Page:
    """A page. `objects` are all that are drawn, back to front, whatever group they are in; `paths` say where each
    stands in the document; what a group hides or locks is hidden and locked in them."""

    sheet: PageSheet
    objects: tuple[PageObject, ...]
    paths: tuple[tuple[str | int, ...], ...] = ()
    groups: tuple[Grouped, ...] = ()


@dataclass(frozen=True)
class Document:
    """A whole document, valid. `raw` is the JSON it was read from."""

    head: Head
    copies: Mapping[str, Mapping[str, Version]]
    pages: tuple[Page, ...]
    raw: Raw = field(repr=False)

    def version_of(self, copy: str, version: str | None = None) -> tuple[str, Version]:
        """The named version of a copy; without one, that which the document shows, that of its language, the first."""
        versions = self.copies[copy]
        for name in (version, self.head.showing, self.head.language):
            if name is not None and name in versions:
                return name, versions[name]
        name = next(iter(versions))
        return name, versions[name]

    def language_of(self, version: str) -> str:
        """The language of a version by its name: that of a copy which has it, else the name where it is a tag."""
        known = next((c[version].language for c in self.copies.values() if version in c), None)
        return known or (version if re.fullmatch(TAG, version) else self.head.language)

    def text_style_of(self, thing: PageObject) -> TextStyle | None:
        """The style that paragraphs of a frame without one of their own take from its recipe."""
        if thing.recipe is None or recipes.TEXT in thing.departs:
            return None
        return self.head.recipes[thing.recipe].text

    @cached_property
    def chain_of(self) -> Mapping[str, tuple[str, ...]]:
        """The chain that each frame of one belongs to."""
        return {frame: chain for chain in self.head.chains for frame in chain}

    @cached_property
    def paths(self) -> Mapping[str, tuple[str | int, ...]]:
        """Where each object stands in the document as it is written."""
        return {t.id: path for page in self.pages for t, path in zip(page.objects, page.paths, strict=True)}

    @cached_property
    def page_of(self) -> Mapping[str, int]:
        """The index of the page that each object is written on."""
        return {thing.id: page for page, thing in self.objects()}

    @cached_property
    def labels(self) -> Mapping[str, str]:
        """What every object is called (see document.naming)."""
        return labels_of(self)

    @cached_property
    def by_id(self) -> Mapping[str, PageObject]:
        """Every object by its id."""
        return {t.id: t for _, t in self.objects()}

    @cached_property
    def tied_with(self) -> Mapping[str, frozenset[str]]:
        """What each object is tied to, through any number of ties, either way; only of those that have any."""
        together: dict[str, set[str]] = {}
        for _, thing in self.objects():
            for tie in thing.ties:
                one, other = together.setdefault(thing.id, {thing.id}), together.setdefault(tie.to, {tie.to})
                if one is not other:
                    one |= other
                    together.update(dict.fromkeys(other, one))
        return {identity: frozenset(ids - {identity}) for identity, ids in together.items()}

    @cached_property
    def holders(self) -> Mapping[str, frozenset[str]]:
        """The copies that each object stands in, or has its place in."""
        out: dict[str, set[str]] = {}
        for name, versions in self.copies.items():
            for version in versions.values():
                for run in (r for p in version.paragraphs for r in p.runs if r.object):
                    out.setdefault(run.object or "", set()).add(name)
        return {identity: frozenset(names) for identity, names in out.items()}

    def group_along(self, identity: str, copies: Set[str]) -> Grouped | None:
        """The group that goes along with an object when that belongs to copies: the largest one around it that has no
        other such object in it, and no frame of those copies."""
        page = self.pages[self.page_of[identity]]
        around = [g for g in page.groups if identity in g.objects]
        by_id = {t.id: t for t in page.objects} if around else {}
        for group in around:  # a group before those within it
            things = [by_id[i] for i in group.objects if i in by_id]
            held = {t.frame.copy_name for t in things if t.frame}
            others = (t for t in things if t.anchor and t.id != identity)
            if not held & copies and all(held & self.holders.get(t.id, frozenset()) for t in others):
                return group
        return None

    def going_along(self, identity: str, copies: Set[str]) -> tuple[str, ...]:
        """The objects that go along with one when that belongs to copies: the others of that group. What belongs to
        copy itself, or is tied, goes its own way."""
        group = self.group_along(identity, copies)
        if group is None:
            return ()
        free = {t.id for t in self.pages[self.page_of[identity]].objects if not t.anchor and not t.ties}
        return tuple(i for i in group.objects if i != identity and i in free)

    @cached_property
    def along(self) -> Mapping[str, tuple[str, ...]]:
        """The objects that go along with each that belongs to copy; only of those that have any."""
        found = {
            t.id: self.going_along(t.id, self.holders.get(t.id, frozenset())) for _, t in self.objects() if t.anchor
        }
        return {leader: others for leader, others in found.items() if others}

    @cached_property
    def leader_of(self) -> Mapping[str, str]:
        """What each object goes along with that does so."""
        return {other: leader for leader, others in self.along.items() for other in others}

    @cached_property
    def in_line(self) -> Mapping[str, str]:
        """What stands in line in the copy, with what it goes along with (itself, where it is that)."""
        stands = [t.id for _, t in self.objects() if t.anchor and t.anchor.place == "in-line"]
        return {i: leader for leader in stands for i in (leader, *self.along.get(leader, ()))}

    def leader_in(self, group: Grouped) -> str | None:
        """The object of a group that all of it goes along with; while there is none, the one that would lead it into
        copy: its largest that belongs to none."""
        things = [t for page in self.pages for t in page.objects if t.id in group.objects]
        own_way = {t.id for t in things if t.anchor or t.ties}
        for thing in things:
            if thing.id in self.along and own_way.union(self.along[thing.id]).issuperset(group.objects):
                return thing.id
        loose = [t for t in things if not t.anchor]
        return max(loose, key=lambda t: t.box[2] * t.box[3]).id if loose else None

    def beside_in_chain(self, frame: str, step: int) -> str | None:
        """The frame that a chain goes on in after this one (step 1), or comes from (step −1)."""
        chain = self.chain_of.get(frame, ())
        at = chain.index(frame) + step if chain else -1
        return chain[at] if 0 <= at < len(chain) else None

    def last_of_chain(self, frame: str) -> str:
        """The last frame that sets this one's copy: itself without a chain."""
        return self.chain_of.get(frame, (frame,))[-1]

    def objects(self) -> Iterator[tuple[int, PageObject]]:
        """Every object with the index of its page, back to front."""
        for index, page in enumerate(self.pages):
            for thing in page.objects:
                yield index, thing


class Reader:
    """Reads documents, remembering the parts it has read. Keep one per process."""

    def __init__(self, remembered: int = 30_000) -> None:
        self._remembered = remembered
        self._parts: OrderedDict[tuple[Any, ...], tuple[Any, BaseModel]] = OrderedDict()
        self._heads: OrderedDict[tuple[tuple[str, int], ...], tuple[Raw, Head]] = OrderedDict()

    def read(self, raw: Any) -> Document:
        """The document, checked in every field and reference. Raises DocumentError."""
        if not isinstance(raw, dict):
            raise DocumentError("$", 'a document is a JSON object: { "format": "nest-line", … }')
        rest = {k: v for k, v in raw.items() if k not in ("copies", "pages")}
        head = self._head(rest)
        copies = {name: self._copy(name, c) for name, c in self._mapping(raw.get("copies", {}), ("copies",)).items()}
        pages = self._list(raw.get("pages", []), ("pages",))
        if not pages:
            raise DocumentError("$.pages", "a document needs at least one page")
        document = Document(head, copies, tuple(self._page(i, p, raw) for i, p in enumerate(pages)), raw)
        _check_references(document)
        return document

    def _head(self, rest: Raw) -> Head:
        """The head; edits that leave it alone leave the very values that it was read from."""
        key = tuple((name, id(value)) for name, value in rest.items())
        found = self._heads.get(key)
        if found is None:
            found = (rest, _fresh(Head, rest, ()))
            remember(self._heads, key, found, MOST_HEADS)
        return found[1]

    def _copy(self, name: str, raw: Any) -> dict[str, Version]:
        at: tuple[str | int, ...] = ("copies", name)
        raw = self._mapping(raw, at)
        _only(raw, {"versions"}, at)
        versions = self._mapping(raw.get("versions", {}), (*at, "versions"))
        if not versions:
            raise DocumentError(json_path((*at, "versions")), "a copy needs at least one version")
        out = {}
        _check_name(name, MOST_COPY_NAME, "copy", at)
        for key, value in versions.items():
            here = (*at, "versions", key)
            value = self._mapping(value, here)
            _only(value, {"language", "paragraphs", "source"}, here)
            language = value.get("language", key)
            _check_name(key, MOST_VERSION_NAME, "version", here)
            if not isinstance(language, str) or len(language) > MOST_TAG or not language.replace("-", "a").isalnum():
                raise DocumentError(json_path((*here, "language")), "is not a language tag; write for example en or fi")
            paragraphs = self._list(value.get("paragraphs", []), (*here, "paragraphs"))
            read = tuple(self._part(Paragraph, p, (*here, "paragraphs", i)) for i, p in enumerate(paragraphs))
            source = value.get("source")
            told = None if source is None else self._part(Source, source, (*here, "source"))
            out[key] = Version(language, read, told)
        return out

    def _page(self, index: int, raw: Any, whole: Raw) -> Page:
        at: tuple[str | int, ...] = ("pages", index)
        raw = self._mapping(raw, at)
        sheet = self._sheet(raw, at)
        objects: list[PageObject] = []
        paths: list[tuple[str | int, ...]] = []
        groups: list[Grouped] = []
        known = whole.get("recipes") or {}
        self._gather(raw.get("objects", []), (*at, "objects"), None, False, False, known, objects, paths, groups)
        return Page(sheet, tuple(objects), tuple(paths), tuple(groups))

    def _sheet(self, raw: Raw, at: tuple[str | int, ...]) -> PageSheet:
        if found := self._parts.get((id(raw), PageSheet)):
            return found[1]  # type: ignore[return-value]
        sheet = _fresh(PageSheet, {k: v for k, v in raw.items() if k != "objects"}, at)
        remember(self._parts, (id(raw), PageSheet), (raw, sheet), self._remembered)
        return sheet

    def _gather(
        self,
        raw: Any,
        at: tuple[str | int, ...],
        inside: str | None,
        hidden: bool,
        locked: bool,
        known: Raw,
        objects: list[PageObject],
        paths: list[tuple[str | int, ...]],
        groups: list[Grouped],
    ) -> None:
        """Read a list of objects and groups, back to front, into flat lists."""
        if len(at) > 40:
            raise DocumentError(json_path(at), "groups within groups go too deep; 18 are enough")
        for index, one in enumerate(self._list(raw, at)):
            here = (*at, index)
            if isinstance(one, dict) and "objects" in one:
                group = self._group(one, here)
                place, first = len(groups), len(objects)
                hides, locks = hidden or group.hidden, locked or group.locked
                groups.append(Grouped(group, (), inside))
                self._gather(one["objects"], (*here, "objects"), group.id, hides, locks, known, objects, paths, groups)
                groups[place] = Grouped(group, tuple(t.id for t in objects[first:]), inside)
                continue
            thing = self._thing(one, known, here)
            if (hidden and not thing.hidden) or (locked and not thing.locked):
                thing = self._as_its_group(thing, hidden, locked)
            objects.append(thing)
            paths.append(here)

    def _thing(self, raw: Any, known: Raw, at: tuple[str | int, ...]) -> PageObject:
        """An object, with what it takes from the recipe that it follows."""
        name = raw.get("recipe") if isinstance(raw, dict) else None
        if name is None:
            return self._part(PageObject, raw, at)
        if name not in known:
            names = ", ".join(known) or "none yet"
            raise DocumentError(json_path((*at, "recipe")), f"there is no recipe “{name}”; recipes are: {names}")
        recipe = known[name]
        key = (id(raw), id(recipe), PageObject)
        if found := self._parts.get(key):
            self._parts.move_to_end(key)
            return found[1]  # type: ignore[return-value]
        _fresh(PageObject, raw, at)  # its own fields are checked by themselves, so that faults name them
        thing = _fresh(PageObject, recipes.following(raw, recipe), at)
        self._parts[key] = ((raw, recipe), thing)
        return thing

    def _group(self, raw: Raw, at: tuple[str | int, ...]) -> Group:
        found = self._parts.get((id(raw), Group))
        if found:
            return found[1]  # type: ignore[return-value]
        group = _fresh(Group, {k: v for k, v in raw.items() if k != "objects"}, at)
        self._parts[(id(raw), Group)] = (raw, group)
        return group

    def _as_its_group(self, thing: PageObject, hidden: bool, locked: bool) -> PageObject:
        key = (id(thing), "in a group", hidden, locked)
        found = self._parts.get(key)
        if found:
            return found[1]  # type: ignore[return-value]
        made = thing.model_copy(update={"hidden": hidden or thing.hidden, "locked": locked or thing.locked})
        self._parts[key] = (thing, made)
        return made

    def _part(self, model: type[P], raw: Any, at: tuple[str | int, ...]) -> P:
        key = (id(raw), model)
        if found := self._parts.get(key):
            self._parts.move_to_end(key)
            return found[1]  # type: ignore[return-value]
        part = _fresh(model, raw, at)
        kept: tuple[Any, BaseModel] = (raw, part)
        remember(self._parts, key, kept, self._remembered)
        return part

    @staticmethod
    def _mapping(value: Any, at: tuple[str | int, ...]) -> Raw:
        if not isinstance(value, dict):
            raise DocumentError(json_path(at), "must be a JSON object")
        return value

    @staticmethod
    def _list(value: Any, at: tuple[str | int, ...]) -> list[Any]:
        if not isinstance(value, list):
            raise DocumentError(json_path(at), "must be a list")
        return value


def _fresh(model: type[P], raw: Any, at: tuple[str | int, ...]) -> P:
    try:
        return model.model_validate(raw)
    except ValidationError as error:
        raise in_users_words(error, at) from None


def _only(raw: Raw, known: set[str], at: tuple[str | int, ...]) -> None:
    for name in raw:
        if name not in known:
            raise DocumentError(json_path((*at, name)), f"no such field here; known are {', '.join(sorted(known))}")


def in_users_words(error: ValidationError, at: tuple[str | int, ...] = ()) -> DocumentError:
    """The first thing that is wrong, with its JSON path and what would be right."""
    first = error.errors()[0]
    where = tuple(step for step in first["loc"] if isinstance(step, int) or not step.startswith("function-"))
    kind, context = first["type"], first.get("ctx", {})
    if kind == "extra_forbidden":
        message = "no such field here; see docs/document-format.md"
    elif kind == "missing":
        message = "is missing"
    elif kind == "literal_error":
        message = f"{_quoted(first['input'])} is not possible; write one of {context['expected'].replace(chr(39), '')}"
    elif kind in ("model_type", "dict_type", "model_attributes_type"):
        message = f"{_quoted(first['input'])} will not do: it must be a JSON object, with its fields in braces"
    elif kind == "value_error":
        message = str(context["error"])
    else:
        message = f"{_quoted(first['input'])} will not do: {first['msg'][0].lower()}{first['msg'][1:]}"
    return DocumentError(json_path((*at, *where)), message)


def _quoted(value: Any) -> str:
    text = str(value)
    return f"“{text if len(text) < 60 else text[:57] + '…'}”"


def _check_references(document: Document) -> None:
    """Ids are unique; copies, styles and colours that are named exist."""
    for name, style in document.head.styles.items():
        _check_color(document, style.color, ("styles", name, "color"))
    for name, recipe in document.head.recipes.items():
        for part, paint in (("fill", recipe.fill), ("stroke", recipe.stroke), ("text", recipe.text)):
            _check_color(document, paint.color if paint else None, ("recipes", name, part, "color"))
    seen: set[str] = set()
    for page_index, page in enumerate(document.pages):
        _check_color(document, page.sheet.background, ("pages", page_index, "background"))
        named: list[tuple[str, tuple[str | int, ...]]] = [(g.group.id, ("pages", page_index)) for g in page.groups]
        named += [(t.id, at) for t, at in zip(page.objects, page.paths, strict=True)]
        for identity, at in named:
            if identity in seen:
                raise DocumentError(
                    json_path((*at, "id")), f"“{identity}” is used twice; every object needs its own id"
                )
            seen.add(identity)
        for thing, at in zip(page.objects, page.paths, strict=True):
            if thing.frame and thing.frame.copy_name not in document.copies:
                known = ", ".join(document.copies) or "none yet"
                raise DocumentError(
                    json_path((*at, "frame", "copy")),
                    f"there is no copy “{thing.frame.copy_name}”; copies are: {known}",
                )
            if thing.fill:
                _check_color(document, thing.fill.color, (*at, "fill", "color"))
            if thing.stroke:
                _check_color(document, thing.stroke.color, (*at, "stroke", "color"))
        _check_ties(page)
    _check_chains(document)
    anchored = {t.id for _, t in document.objects() if t.anchor}
    held = {t.id: t.frame.copy_name for _, t in document.objects() if t.frame}
    styles = document.head.styles
    for copy, versions in document.copies.items():
        for version_name, version in versions.items():
            placed: set[str] = set()
            for index, paragraph in enumerate(version.paragraphs):
                if not paragraph.refers and (paragraph.style is None or paragraph.style in styles):
                    continue
                here = ("copies", copy, "versions", version_name, "paragraphs", index)
                if paragraph.style is not None and paragraph.style not in styles:
                    known = ", ".join(styles) or "none yet"
                    raise DocumentError(
                        json_path((*here, "style")), f"there is no style “{paragraph.style}”; styles are: {known}"
                    )
                _check_color(document, paragraph.color, (*here, "color"))
                for run_index, run in enumerate(paragraph.runs):
                    _check_color(document, run.color, (*here, "runs", run_index, "color"))
                    if run.of is not None and run.of not in seen:
                        at = (*here, "runs", run_index, "of")
                        raise DocumentError(json_path(at), f"there is no frame “{run.of}” whose page could be named")
                    if run.object is None:
                        continue
                    at = (*here, "runs", run_index, "object")
                    if run.object not in seen:
                        raise DocumentError(json_path(at), f"there is no object “{run.object}” to stand in the copy")
                    if run.object not in anchored:
                        raise DocumentError(
                            json_path(at), f"“{run.object}” has no `anchor` that says how it stands here"
                        )
                    if held.get(run.object) == copy:
                        raise DocumentError(json_path(at), f"“{run.object}” would stand in the copy that it holds")
                    if run.object in placed:
                        raise DocumentError(json_path(at), f"“{run.object}” stands in this copy already")
                    placed.add(run.object)


def _check_ties(page: Page) -> None:
    """Ties lead to other objects of the page, and never round in a loop."""
    if not any(t.ties for t in page.objects):
        return
    names = {t.id: t.label for t in page.objects}
    for thing, path in zip(page.objects, page.paths, strict=True):
        for index, tie in enumerate(thing.ties):
            if tie.to not in names:
                message = f"there is no object “{tie.to}” on this page to be tied to"
                raise DocumentError(json_path((*path, "ties", index, "to")), message)
    found = loop_of(page.objects)
    if found:
        at = next(p for t, p in zip(page.objects, page.paths, strict=True) if t.id == found[0])
        round_ = " to ".join(f"“{names[i]}”" for i in [*found, found[0]])
        raise DocumentError(json_path((*at, "ties")), f"these ties run in a loop, {round_}; let go of one of them")


def _check_chains(document: Document) -> None:
    """A chain leads through frames of one copy that wrap their lines, each of them once."""
    if not document.head.chains:
        return
    frames = document.by_id
    seen: set[str] = set()
    for number, chain in enumerate(document.head.chains):
        copies = [frames[i].frame.copy_name for i in chain if i in frames and frames[i].frame]  # type: ignore[union-attr]
        for place, identity in enumerate(chain):
            at = json_path(("chains", number, place))
            thing = frames.get(identity)
            if thing is None or thing.frame is None:
                raise DocumentError(at, f"there is no frame “{identity}” for the copy to run through")
            if identity in seen:
                raise DocumentError(
                    at, f"“{thing.label}” stands in a chain already; a frame has one place in one chain"
                )
            if thing.frame.copy_name != copies[0]:
                raise DocumentError(
                    at, f"“{thing.label}” holds another copy than the frames before it; give it “{copies[0]}”"
                )
            if not thing.frame.wrap_lines:
                raise DocumentError(
                    at, f"“{thing.label}” does not wrap its lines, so copy cannot run on from it or into it"
                )
            if thing.anchor is not None:
                raise DocumentError(
                    at, f"“{thing.label}” belongs to copy itself, so that no copy can run through it; release it first"
                )
            seen.add(identity)


def _check_color(document: Document, name: str | None, at: tuple[str | int, ...]) -> None:
    if name and not name.startswith("#") and name not in document.head.colors and name not in BUILT_IN_COLORS:
        known = ", ".join([*document.head.colors, *BUILT_IN_COLORS])
        raise DocumentError(json_path(at), f"there is no colour “{name}”; colours are: {known}, or write #rrggbb")


def portable_recipe(rules: Any, colors: Mapping[str, str]) -> Raw:
    """A recipe with the colours of its document as figures, so that it can go anywhere. Raises DocumentError."""

    def walked(value: Any) -> Any:
        if isinstance(value, dict):
            return {k: colors.get(v, v) if k == "color" and isinstance(v, str) else walked(v) for k, v in value.items()}
        return [walked(v) for v in value] if isinstance(value, list) else value

    made: Raw = walked(rules)
    head = _fresh(Head, {"format": "nest-line", "version": 1, "recipes": {"it": made}}, ())
    _check_references(Document(head, {}, (), {}))
    return made
