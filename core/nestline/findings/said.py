"""Findings in the designer's words: what is wrong, its figure, and what it should be."""

from __future__ import annotations

from nestline.findings.finding import Finding
from nestline.nesting.placed import PlacedNest

MOST_WORDS = 5


def quoted(words: str) -> str:
    """A stretch of copy as it is told: its first words, and its last where it is long."""
    each = words.split()
    if len(each) > MOST_WORDS:
        return f"“{' '.join(each[:3])} … {each[-1]}”"
    return f"“{words}”"


def count(number: float, one: str, more: str | None = None) -> str:
    return f"{number:g} {one if number == 1 else more or one + 's'}"


def message(one: Finding, name: str, placed: PlacedNest | None) -> str:
    """A finding as a sentence; `name` is what its object is called."""
    words, figure, limit = quoted(one.words), one.figure or 0.0, one.limit or 0.0
    match one.kind:
        case "leftover" if placed is not None and placed.nest.mark is not None:
            return f"{count(figure, 'word')} of “{name}” are left over behind the mark that ends it"
        case "leftover":
            lacks = placed.nest.lacks if placed else None
            more = f"; it lacks {lacks[1]:.0f} pt of {lacks[0]}" if lacks else ""
            return f"{count(figure, 'word')} of “{name}” {'is' if figure == 1 else 'are'} left over{more}"
        case "hidden":
            return f"{words} cannot be seen: {100 * figure:.0f} % of it lies under something painted"
        case "pale" if figure < 1.02:
            return f"{words} cannot be seen: it has the colour of what lies behind it"
        case "pale":
            told = f"{figure:.1f}" if limit - figure >= 0.05 else f"{figure:.2f}"
            return f"{words} is hard to read: its contrast with what lies behind is {told} : 1, {limit:g} : 1 is needed"
        case "cut-off":
            return f"{words} reaches {figure:.1f} pt past the page’s edge and is cut off there"
        case "small":
            return f"{words} is set in {figure:g} pt; type under {limit:g} pt is hard to read"
        case "no-letter":
            return f"the font of “{name}” has no “{''.join(one.details)[:12]}”; an empty box stands for it"
        case "stand-in":
            return f"{', '.join(one.details)} is not here; another font stands in for it in “{name}”"
        case "unfilled":
            return f"{_from(figure, words)} not filled: word spaces would have to open too far"
        case "loose" if len(one.marks) > 1:
            lines = f"{len(one.marks)} lines of “{name}” are loose"
            return f"{lines}, {words} most: its word spaces are {100 * figure:.0f} % wider than the font’s own"
        case "loose":
            return f"{words} is loose: its word spaces are {100 * figure:.0f} % wider than the font’s own"
        case "river":
            return f"a river of {figure:g} lines runs down from {words}"
        case "ladder":
            return f"{figure:g} lines in a row end in a hyphen, from {words}"
        case "across":
            return f"{words} is parted by a hyphen across a gap"
        case "lone-slot":
            return f"{words} stands alone in its room, in justified copy" + _more(figure)
        case "orphan":
            return (
                f"{words}: the first {_lines(figure)} of a paragraph stand{'s' * (figure == 1)} alone at the foot of "
                f"a column"
            )
        case "widow":
            return (
                f"{words}: the last {_lines(figure)} of a paragraph stand{'s' * (figure == 1)} alone at the head of a "
                f"column"
            )
        case "last-word":
            return f"{words} is alone in the last line of its paragraph" + _more(figure)
        case "measure":
            many = figure > 60
            return f"lines of “{name}” hold {figure:.0f} letters: too {'many' if many else 'few'} to read easily"
        case "tight-padding":
            return f"copy of “{name}” comes within {figure:.2f} em of its painted edge"
        case "empty":
            return f"“{name}” holds no words"
        case "no-room":
            return f"what stands in “{name}” leaves its copy {100 * figure:.0f} % of its room"
        case "off-page":
            return f"“{name}” reaches {figure:.1f} pt past the page"
        case "coarse":
            return f"“{name}” has {figure:.0f} pixels an inch at its size; {limit:g} are needed"
        case "doubtful":
            return f"the contour of “{name}” is doubtful ({100 * figure:.0f} % sure)"
        case "no-contour":
            return f"no contour was found for “{name}”: {one.details[0]}"
        case "unsettled":
            return f"“{name}” does not come to rest: what it hangs on pushes it back"
        case "waiting":
            return f"“{name}” waits: its place in the copy is set nowhere"
        case "no-embed":
            return (
                f"{', '.join(one.details)} in “{name}” may not be embedded: its maker forbids it to go out with a PDF"
            )
        case "no-version":
            has, wanted = one.details
            return f"“{name}” has no version “{wanted}”; “{has}” stands in"
        case "stale":
            was, now = one.details
            was, now = apart(was, now)
            return f"{words} was translated from “{was}”, which says “{now}” now"
        case "untranslated":
            return (
                f"{count(figure, 'paragraph')} of “{name}” {'has' if figure == 1 else 'have'} the words of another "
                f"language still"
            )
        case "curved":
            return f"{figure:.0f} words stand in “{name}”, whose every line begins elsewhere: long to read"
        case "unlike":
            return f"the padding of “{name}” is not that of others like it"
        case "near":
            return f"{one.details[0]} of “{name}” and of a frame beside it differ by {figure:.1f} pt"
        case "nowhere":
            return f"a page number in “{name}” leads nowhere: {one.details[0]}"
        case _:
            return f"{one.kind} in “{name}”"


def apart(was: str, now: str) -> tuple[str, str]:
    """Where two texts differ, with a word on either side: what stood there, and what does."""
    a, b = was.split(), now.split()
    same = next((n for n, (x, y) in enumerate(zip(a, b, strict=False)) if x != y), min(len(a), len(b)))
    tail = 0
    while tail < min(len(a), len(b)) - same and a[-1 - tail] == b[-1 - tail]:
        tail += 1

    def part(words: list[str]) -> str:
        low, high = max(same - 1, 0), min(len(words) - tail + 1, len(words))
        inner = words[low:high]
        if len(inner) > 2 * MOST_WORDS:
            inner = [*inner[:MOST_WORDS], "…", *inner[-MOST_WORDS:]]
        return f"{'… ' * (low > 0)}{' '.join(inner)}{' …' * (high < len(words))}"

    return part(a), part(b)


def _from(number: float, words: str) -> str:
    return f"{words} is" if number == 1 else f"{number:g} lines, from {words}, are"


def _more(number: float) -> str:
    """That others of the frame are so, too."""
    return f", and {number - 1:g} more in this frame" if number > 1 else ""


def _lines(number: float) -> str:
    return "line" if number == 1 else f"{number:g} lines"
