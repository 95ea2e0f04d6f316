"""What the desk makes of an XLIFF file. It knows nothing of documents, as no desk outside would."""

from __future__ import annotations

import re
import time
from collections.abc import Callable, Iterator
from copy import deepcopy
from itertools import count
from xml.etree.ElementTree import Element, tostring

from defusedxml import ElementTree

from nestline.copy.dummy import dummy_paragraphs, has_dummy
from nestline.errors import NestLineError
from nestline.findings.strain import USUAL, growth
from nestline.translating.xliff import CORE

LEAST_GROWN = 0.5
"""A text grows by the published table, or by this much of it: each a little otherwise."""
SHORT = 0.02
"""Seconds between two looks at the time."""


def translate(
    content: bytes, seconds: float = 0.0, fails: bool = False, tell: Callable[[float], None] = lambda share: None
) -> bytes:
    """A file of XLIFF with a translation for each of its segments, after so many seconds. Raises NestLineError in the
    middle of it where it is to fail."""
    root = ElementTree.fromstring(content, forbid_dtd=True)
    language = root.get("trgLang", "en").split("-")[0]
    segments = list(root.iter(f"{{{CORE}}}segment"))
    words = _words(language)
    for number, segment in enumerate(segments):
        _wait(seconds / len(segments))
        if fails and number >= len(segments) // 2:
            raise NestLineError(f"the desk gave up after {number} of {len(segments)} paragraphs; nothing was changed")
        _translate(segment, words)
        tell((number + 1) / len(segments))
    made: bytes = tostring(root, encoding="utf-8", xml_declaration=True)
    return made


def _wait(seconds: float) -> None:
    ends = time.monotonic() + seconds
    while (left := ends - time.monotonic()) > 0:
        time.sleep(min(SHORT, left))


def _translate(segment: Element, words: Iterator[str]) -> None:
    source = segment.find(f"{{{CORE}}}source")
    assert source is not None
    old = segment.find(f"{{{CORE}}}target")
    if old is not None:
        segment.remove(old)
    target = deepcopy(source)
    target.tag = f"{{{CORE}}}target"
    letters = sum(len(text) for text in source.itertext())
    for element in target.iter():
        element.text = _instead(element.text, letters, words)
        if element is not target:
            element.tail = _instead(element.tail, letters, words)
    segment.append(target)
    segment.set("state", "translated")


def _instead(text: str | None, whole: int, words: Iterator[str]) -> str | None:
    """Made-up words for a stretch of a text of so many letters; figures, and the spaces at its ends, stay."""
    if text is None or not any(letter.isalpha() for letter in text):
        return text
    inner = text.strip()
    before, after = text[: len(text) - len(text.lstrip())], text[len(text.rstrip()) :]
    share = growth(whole, USUAL) * (LEAST_GROWN + (len(inner) * 7 % 10) / 10)
    wanted = max(round(len(inner) * (1 + share)), 2)
    made = next(words)
    while len(made) < wanted:
        made = f"{made} {next(words)}"
    if inner[:1].isupper():
        made = made[:1].upper() + made[1:]
    if not inner[-1].isalnum():
        made = made.rstrip(".,;:") + inner[-1]
    return f"{before}{made}{after}"


def _words(language: str) -> Iterator[str]:
    for number in count():
        for paragraph in dummy_paragraphs(language if has_dummy(language) else "en", 400 * (number + 1)):
            for sentence in re.split(r"(?<=[.:]) ", paragraph):
                first, *rest = re.sub("[.,:;]", "", sentence).split() or [""]
                yield first[:1].lower() + first[1:]
                yield from rest
