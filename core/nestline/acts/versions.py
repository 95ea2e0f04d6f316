"""Versions of copies (languages, drafts): added, brought from text, renamed, taken away."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from nestline.acts.acting import ActError, Acting, Given, act
from nestline.acts.copying import decoded
from nestline.copy.imports import read_text
from nestline.document.edits import Operation, Raw
from nestline.translating.home import homecoming, read_letter
from nestline.translating.states import pairs, paragraphs_of, recorded, source_of, texts_of

VersionName = Annotated[str, Field(min_length=1, max_length=80)]
Language = Annotated[str, Field(pattern=r"^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$")]


def _versions(at: Acting, copy: str) -> Raw:
    found: Raw | None = at.document.raw.get("copies", {}).get(copy, {}).get("versions")
    if found is None:
        raise ActError("that copy is not there any more")
    return found


class AddVersion(Given):
    version: VersionName
    language: Language | None = None
    """That which the version has in other copies, or is named by, when left out."""
    copies: list[str] | None = None
    """The copies that get it; all when left out. Those that have it already keep theirs."""
    like: str | None = None
    """The version that it begins as; the one that is shown when left out."""
    show: bool = True


@act("add-version", AddVersion)
def add_version(at: Acting, given: AddVersion) -> list[Operation]:
    """Give copies another version. It begins as one that is there, words and looks, to be written over."""
    name = given.version.strip()
    wanted = list(at.document.copies) if given.copies is None else given.copies
    if not wanted:
        raise ActError("there is no copy yet to have another version")
    out: list[Operation] = []
    for copy in wanted:
        versions = _versions(at, copy)
        if name in versions:
            continue
        begins, _ = at.document.version_of(copy, given.like)
        language = given.language or at.document.language_of(name)
        paragraphs = versions[begins].get("paragraphs", [])
        source = {"version": begins, "paragraphs": texts_of(paragraphs)}
        value = {"language": language, "paragraphs": paragraphs, "source": source}
        out.append({"do": "put", "at": ["copies", copy, "versions", name], "value": value})
    if given.show:
        out.append({"do": "put", "at": ["showing"], "value": name})
    return out


class BringVersion(Given):
    copy_name: Annotated[str, Field(alias="copy")]
    version: VersionName
    language: Language
    name: str = ""
    content: Annotated[str, Field(max_length=30_000_000)]
    """The file, in base 64."""
    plain: bool = True
    show: bool = True


@act("bring-version", BringVersion)
def bring_version(at: Acting, given: BringVersion) -> list[Operation]:
    """A text file as a version of a copy. Its paragraphs look as those in the same places of the version shown."""
    found = read_text(given.name, decoded(given.content))
    versions = _versions(at, given.copy_name)
    begins, _ = at.document.version_of(given.copy_name)
    looks = [{k: v for k, v in p.items() if k != "runs"} for p in versions[begins].get("paragraphs", [])] or [{}]
    made = []
    paragraphs = found.plain() if given.plain else found.paragraphs
    for index, paragraph in enumerate(p for p in paragraphs if any(r.get("text") for r in p.get("runs", []))):
        known = {k: v for k, v in paragraph.items() if k != "style" or v in at.document.head.styles}
        made.append({**looks[min(index, len(looks) - 1)], **known})
    value: Raw = {"language": given.language, "paragraphs": made}
    if begins != given.version.strip() and len(made) == len(versions[begins].get("paragraphs", [])):
        value["source"] = {"version": begins, "paragraphs": texts_of(versions[begins]["paragraphs"])}
    path = ["copies", given.copy_name, "versions", given.version.strip()]
    shown: list[Operation] = [{"do": "put", "at": ["showing"], "value": given.version.strip()}] if given.show else []
    return [{"do": "put", "at": path, "value": value}, *shown]


class TakeTranslation(Given):
    name: str = ""
    content: Annotated[str, Field(max_length=45_000_000)]
    """The file that came home, in base 64."""
    version: VersionName | None = None
    """The version that it is taken as; that which the file names, or one of its language, when left out."""
    only: Annotated[list[str], Field(max_length=100_000)] | None = None
    """The changes to be taken; all that can be when left out."""
    show: bool = True


@act("take-translation", TakeTranslation)
def take_translation(at: Acting, given: TakeTranslation) -> list[Operation]:
    """Take a translation that came home: XLIFF, a table, an archive. What its paragraphs were made from is kept with
    them."""
    letter = read_letter(given.name, decoded(given.content))
    found = homecoming(at.document, letter, given.version, None if given.only is None else set(given.only))
    if not found.operations:
        raise ActError("there is nothing in it to be taken")
    shown: list[Operation] = [{"do": "put", "at": ["showing"], "value": found.version}] if given.show else []
    return [*found.operations, *shown]


class KeepTranslation(Given):
    copy_name: Annotated[str, Field(alias="copy")]
    version: str
    paragraphs: list[int]
    """Of the version's own paragraphs, those whose words are right as they are."""


@act("keep-translation", KeepTranslation)
def keep_translation(at: Acting, given: KeepTranslation) -> list[Operation]:
    """Say that a version's words are right for what its source says now."""
    _versions(at, given.copy_name)
    source = source_of(at.document, given.copy_name, given.version)
    if source is None or given.version not in at.document.copies[given.copy_name]:
        raise ActError(f"“{given.copy_name}” has no other version that “{given.version}” could come from")
    there = paragraphs_of(at.document, given.copy_name, given.version)
    right = [
        pair
        for pair in pairs(at.document, given.copy_name, source, given.version)
        if pair.there in given.paragraphs and pair.state != "done"
    ]
    if not right:
        raise ActError("it is right already")
    made = {pair.number: {"runs": there[pair.there or 0].get("runs", [])} for pair in right}
    kept = {pair.text for pair in right if pair.state == "new"}
    return recorded(at.document, given.copy_name, given.version, source, made, {}, kept)


class DropVersion(Given):
    version: str
    copies: list[str] | None = None


@act("drop-version", DropVersion)
def drop_version(at: Acting, given: DropVersion) -> list[Operation]:
    """Take a version away. A copy that has no other keeps it."""
    out: list[Operation] = []
    for copy in at.document.copies if given.copies is None else given.copies:
        versions = _versions(at, copy)
        if given.version in versions and len(versions) > 1:
            out.append({"do": "cut", "at": ["copies", copy, "versions", given.version]})
    if not out:
        raise ActError(f"“{given.version}” is the only version there is")
    if _shown(at) == given.version:
        left = [v for copy in at.document.copies for v in _versions(at, copy) if v != given.version]
        if at.document.head.language in left:
            out.append({"do": "cut", "at": ["showing"]})
        else:
            out.append({"do": "put", "at": ["showing"], "value": left[0]})
    return out


def _shown(at: Acting) -> str:
    """The version that the document shows: that of its language while none is chosen."""
    return at.document.head.showing or at.document.head.language


class RenameVersion(Given):
    version: str
    to: VersionName
    language: Language | None = None


@act("rename-version", RenameVersion)
def rename_version(at: Acting, given: RenameVersion) -> list[Operation]:
    """Call a version otherwise in every copy, or say that it is in another language."""
    new = given.to.strip()
    out: list[Operation] = []
    for copy in at.document.copies:
        versions = _versions(at, copy)
        if given.version not in versions:
            continue
        if new != given.version and new in versions:
            raise ActError(f"there is a version “{new}” already")
        made = {(new if k == given.version else k): _told_anew(v, given.version, new) for k, v in versions.items()}
        made[new] = {"language": given.version, **made[new], **({"language": given.language} if given.language else {})}
        out.append({"do": "put", "at": ["copies", copy, "versions"], "value": made})
    if out and _shown(at) == given.version:
        out.append({"do": "put", "at": ["showing"], "value": new})
    return out


def _told_anew(version: Raw, old: str, new: str) -> Raw:
    """A version that says another name for the one it was translated from, where that is called otherwise now."""
    source = version.get("source")
    if not source or source["version"] != old:
        return version
    return {**version, "source": {**source, "version": new}}
