"""Copy merged by words: paragraphs as words (UAX #29), places of objects and ends of paragraphs, each with its look."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from nestline.copy.breaks import words
from nestline.merging.sequences import MISSING, Part, Side, aligned, parts

Raw = dict[str, Any]
EMPTY = "\0empty"
"""The look of an empty paragraph's letters, among the rules of its end."""


@dataclass(frozen=True)
class Atom:
    """A word, what stands between words, the place of an object, a page number or the end of a paragraph.

    `looks` are the run's fields of each code point; of an end, the one is its paragraph's fields.
    """

    kind: str
    text: str
    looks: tuple[Raw, ...]

    @property
    def key(self) -> tuple[str, str]:
        return self.kind, self.text


def atoms(paragraphs: Sequence[Raw]) -> list[Atom]:
    """Paragraphs as atoms; each ends with an end."""
    out: list[Atom] = []
    for paragraph in paragraphs:
        rules = {name: value for name, value in paragraph.items() if name != "runs"}
        begun = len(out)
        text, looks = "", list[Raw]()
        for run in paragraph.get("runs", []):
            kind = "object" if run.get("object") is not None else "field" if run.get("field") is not None else ""
            look = {n: v for n, v in run.items() if n not in ("text", "object", "field", "of")}
            if kind:
                out += _words(text, looks)
                text, looks = "", []
                named = {n: run[n] for n in ("object", "field", "of") if n in run}
                out.append(Atom(kind, json.dumps(named, sort_keys=True), (look,)))
            else:
                text += run.get("text", "")
                looks += [look] * len(run.get("text", ""))
        out += _words(text, looks)
        if len(out) == begun and paragraph.get("runs"):
            first = {n: v for n, v in paragraph["runs"][0].items() if n != "text"}
            rules |= {EMPTY: first} if first else {}
        out.append(Atom("end", "", (rules,)))
    return out


def _words(text: str, looks: list[Raw]) -> list[Atom]:
    at = 0
    out = []
    for stop in words(text):
        out.append(Atom("word", text[at:stop], tuple(looks[at:stop])))
        at = stop
    return out


def paragraphs_of(found: Iterable[Atom]) -> list[Raw]:
    """Atoms as paragraphs, runs of one look joined."""
    out: list[Raw] = []
    runs: list[Raw] = []
    rules: Raw = {}
    open_ = False
    for atom in found:
        open_ = atom.kind != "end"
        if atom.kind == "end":
            rules = dict(atom.looks[0])
            empty = rules.pop(EMPTY, None)
            if empty and not runs:
                runs = [{"text": "", **empty}]
            out.append({**rules, "runs": runs})
            runs = []
        elif atom.kind == "word":
            for letter, look in zip(atom.text, atom.looks, strict=True):
                last = runs[-1] if runs else None
                if last is not None and "text" in last and {n: v for n, v in last.items() if n != "text"} == look:
                    last["text"] += letter
                else:
                    runs.append({"text": letter, **look})
        else:
            runs.append({**atom.looks[0], **json.loads(atom.text)})
    if open_:
        out.append({**{n: v for n, v in rules.items() if n != EMPTY}, "runs": runs})
    return out


FieldMerge = Callable[[Any, Any, Any, str], Any]
"""Merges one field three ways: base, theirs, mine, and its name."""


def merged_copy(
    base: Sequence[Raw], theirs: Sequence[Raw], mine: Sequence[Raw], prefer: Side | None, fields: FieldMerge
) -> tuple[list[Raw], list[tuple[str, str]]]:
    """Paragraphs merged, and what collides: their words and mine. `fields` merges the fields of looks and rules."""
    old, a, b = atoms(base), atoms(theirs), atoms(mine)
    hunks_a, pairs_a = aligned(old, a, "theirs", lambda atom: atom.key)
    hunks_b, pairs_b = aligned(old, b, "mine", lambda atom: atom.key)
    found = parts(old, hunks_a, hunks_b, prefer, lambda x, y: (x.start, x.stop, x.items) == (y.start, y.stop, y.items))
    changed_a = _changes_of_look(old, a, pairs_a)
    changed_b = _changes_of_look(old, b, pairs_b)
    out: list[Atom] = []
    at = 0
    for part in [*found, Part(len(old), len(old), (), None)]:
        for n in range(at, part.start):
            out.append(_with_looks(old[n], a[pairs_a[n]], b[pairs_b[n]], fields))
        other = changed_b if part.side == "theirs" else changed_a if part.side == "mine" else {}
        out += _taking_along(part, other)
        at = max(at, part.stop)
    rebuilt = paragraphs_of(out)
    written = {_canonical(p): p for p in (*base, *mine, *theirs)}
    return [written.get(_canonical(p), p) for p in rebuilt], [
        (_said(part.collides[0]), _said(part.collides[1])) for part in found if part.collides
    ]


def _said(found: Iterable[Atom]) -> str:
    return "".join("¶" if a.kind == "end" else a.text if a.kind == "word" else "◆" for a in found)


def _canonical(paragraph: Raw) -> str:
    return json.dumps(paragraphs_of(atoms([paragraph])), sort_keys=True)


def _with_looks(old: Atom, theirs: Atom, mine: Atom, fields: FieldMerge) -> Atom:
    if mine.looks == old.looks:
        return theirs
    if theirs.looks == old.looks:
        return mine
    looks = zip(old.looks, theirs.looks, mine.looks, strict=True)
    return replace(old, looks=tuple(_merged_look(o, t, m, fields) for o, t, m in looks))


def _merged_look(old: Raw, theirs: Raw, mine: Raw, fields: FieldMerge) -> Raw:
    out: Raw = {}
    for name in (*theirs, *(n for n in mine if n not in theirs)):
        values = [look.get(name, MISSING) for look in (old, theirs, mine)]
        o, t, m = values
        value = t if m == o or m is o else m if t == o or t is o else t if t == m else fields(o, t, m, name)
        if value is not MISSING:
            out[name] = value
    return out


def _changes_of_look(old: list[Atom], new: list[Atom], pairs: dict[int, int]) -> dict[int, Raw]:
    """Of each word of the base whose look a side changed, that change where it is the same for all of the word."""
    out: dict[int, Raw] = {}
    for n, at in pairs.items():
        if old[n].looks == new[at].looks or old[n].kind == "end":
            continue
        found = [
            {name: y.get(name, MISSING) for name in {*x, *y} if x.get(name, MISSING) != y.get(name, MISSING)}
            for x, y in zip(old[n].looks, new[at].looks, strict=True)
        ]
        out[n] = found[0] if all(one == found[0] for one in found) else {}
    return out


def _taking_along(part: Part, other: dict[int, Raw]) -> list[Atom]:
    """What a side put in, in the look that the other side gave to what it stands for, or stands between."""
    inside = [other.get(n, {}) for n in range(part.start, part.stop)] or [
        other.get(part.start - 1, {}),
        other.get(part.start, {}),
    ]
    change = inside[0] if all(one == inside[0] for one in inside) else {}
    out: list[Atom] = []
    for atom in part.items:
        if change and atom.kind != "end":
            looks = tuple({n: v for n, v in {**look, **change}.items() if v is not MISSING} for look in atom.looks)
            atom = replace(atom, looks=looks)
        out.append(atom)
    return out
