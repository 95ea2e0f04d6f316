"""Three-way merging of sequences: what was put in and taken out on either side, by stretches of the base."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher
from typing import Any, Literal

Side = Literal["theirs", "mine"]
MISSING: Any = type("Missing", (), {"__repr__": lambda self: "MISSING"})()
"""What stands where a side has nothing."""


@dataclass(frozen=True)
class Hunk:
    """Items `start` to `stop` of the base made into `items` by a side."""

    start: int
    stop: int
    items: tuple[Any, ...]
    side: Side

    @property
    def inserts(self) -> bool:
        return self.start == self.stop


@dataclass(frozen=True)
class Part:
    """A stretch of the base that changes: into `items`; where the sides `collide`, into those of the one preferred."""

    start: int
    stop: int
    items: tuple[Any, ...]
    side: Side | None
    collides: tuple[tuple[Any, ...], tuple[Any, ...]] | None = None


def aligned(
    base: Sequence[Any], other: Sequence[Any], side: Side, key: Callable[[Any], Hashable]
) -> tuple[list[Hunk], dict[int, int]]:
    """What a side changed of the base, and which items of the base are which of its own."""
    old, new = [key(item) for item in base], [key(item) for item in other]
    shorter = min(len(old), len(new))
    begin = next((n for n in range(shorter) if old[n] != new[n]), shorter)
    end = next((n for n in range(shorter - begin) if old[-1 - n] != new[-1 - n]), shorter - begin)
    matcher = SequenceMatcher(None, old[begin : len(old) - end], new[begin : len(new) - end], autojunk=False)
    hunks: list[Hunk] = []
    pairs: dict[int, int] = {}
    i = j = 0
    for tag, i1, i2, j1, j2 in matcher.get_opcodes():
        if tag == "equal":
            continue
        start, stop, at, to = begin + i1, begin + i2, begin + j1, begin + j2
        # What is put in or taken out alone could often stand earlier as well: "a b| b" is "a| b b". As early as it can,
        # so that both sides say it in one way.
        while start == stop and start > i and old[start - 1] == new[to - 1]:
            start, stop, at, to = start - 1, stop - 1, at - 1, to - 1
        while at == to and start > i and old[start - 1] == old[stop - 1]:
            start, stop, at, to = start - 1, stop - 1, at - 1, to - 1
        pairs |= dict(zip(range(i, start), range(j, at), strict=True))
        hunks.append(Hunk(start, stop, tuple(other[at:to]), side))
        i, j = stop, to
    return hunks, pairs | dict(zip(range(i, len(old)), range(j, len(new)), strict=True))


def parts(
    base: Sequence[Any], theirs: list[Hunk], mine: list[Hunk], prefer: Side | None, same: Callable[[Hunk, Hunk], bool]
) -> list[Part]:
    """What changes of the base, in order: what was put in at one place stands in the order in which it came, theirs
    first.

    Stretches that overlap collide, unless both are the same, or both only take away.
    """
    out: list[Part] = []
    left = list(mine)
    for hunk in theirs:
        group, lo, hi = [hunk], hunk.start, hunk.stop
        for other in left:
            if same(hunk, other) and not hunk.inserts:
                left.remove(other)
                break
        else:
            while True:
                more = [h for h in left if _overlap(h, lo, hi)] + [
                    h for h in theirs if h not in group and _overlap(h, lo, hi)
                ]
                if not more:
                    break
                group += more
                left = [h for h in left if h not in more]
                lo, hi = min(h.start for h in group), max(h.stop for h in group)
        if any(part.start <= lo and hi <= part.stop and part.start < part.stop and lo < hi for part in out):
            continue  # already within a part that collides
        out.append(_part(base, group, lo, hi, prefer))
    out += [Part(h.start, h.stop, h.items, "mine") for h in left]
    return sorted(out, key=lambda p: (p.start, p.start < p.stop, p.side == "mine"))


def _overlap(hunk: Hunk, lo: int, hi: int) -> bool:
    if hunk.inserts:
        return lo < hunk.start < hi
    if lo == hi:
        return hunk.start < lo < hunk.stop
    return max(hunk.start, lo) < min(hunk.stop, hi)


def _part(base: Sequence[Any], group: list[Hunk], lo: int, hi: int, prefer: Side | None) -> Part:
    sides = {hunk.side for hunk in group}
    if len(sides) == 1:
        return Part(lo, hi, _of(base, group, lo, hi), group[0].side)
    if not any(hunk.items for hunk in group) and _covered(group, lo, hi):
        return Part(lo, hi, (), None)
    versions = {side: _of(base, [h for h in group if h.side == side], lo, hi) for side in ("theirs", "mine")}
    return Part(lo, hi, versions[prefer or "theirs"], None, (versions["theirs"], versions["mine"]))


def _covered(group: list[Hunk], lo: int, hi: int) -> bool:
    return all(any(h.start <= n < h.stop for h in group) for n in range(lo, hi))


def _of(base: Sequence[Any], hunks: Iterable[Hunk], lo: int, hi: int) -> tuple[Any, ...]:
    """A side's version of a stretch of the base."""
    out: list[Any] = []
    at = lo
    for hunk in sorted(hunks, key=lambda h: h.start):
        out += [*base[at : hunk.start], *hunk.items]
        at = hunk.stop
    return (*out, *base[at:hi])


def ordered(base: Sequence[str], theirs: Sequence[str], mine: Sequence[str]) -> tuple[list[str], bool]:
    """An order of the names on either side, each once; and whether both sides changed the order of the same ones
    otherwise.

    What is new on a side stands behind what it stood behind there.
    """
    common = set(base) & set(theirs) & set(mine)
    kept = [[name for name in names if name in common] for names in (base, theirs, mine)]
    collides = kept[1] != kept[0] and kept[2] != kept[0] and kept[1] != kept[2]
    first, second = (theirs, mine) if kept[1] != kept[0] or kept[2] == kept[0] else (mine, theirs)
    out = list(first)
    gone = set(base) - set(theirs) if second is mine else set(base) - set(mine)
    for place, name in enumerate(second):
        if name in out or name in gone:
            continue
        before = next((n for n in reversed(second[:place]) if n in out), None)
        at = out.index(before) + 1 if before is not None else 0
        while at < len(out) and out[at] not in base and out[at] not in second and second is mine:
            at += 1  # behind what the other side put there
        out.insert(at, name)
    dropped = (set(base) - set(theirs)) | (set(base) - set(mine))
    return [name for name in out if name not in dropped], collides
