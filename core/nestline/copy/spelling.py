"""Words that no dictionary of their language knows, by Hunspell dictionaries (`index.aff` and `index.dic` in a folder
`dictionary-LANGUAGE`, as the npm packages of these names ship them)."""

from __future__ import annotations

import itertools
import threading
import time
from collections.abc import Iterable
from pathlib import Path

from spylls.hunspell import Dictionary

MOST_BETTER = 6
LONGEST_LOOK = 1.5
"""Seconds after which no better word is looked for any more."""


class Speller:
    """Dictionaries of one folder, each read when it is first asked for. Safe to use from several threads."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._read: dict[str, Dictionary | None] = {}
        self._lock = threading.Lock()

    def languages(self) -> list[str]:
        """The languages there are dictionaries for."""
        return sorted(p.parent.name.removeprefix("dictionary-") for p in self.folder.glob("dictionary-*/index.dic"))

    def _dictionary(self, language: str) -> Dictionary | None:
        tag = language.split("-")[0].lower()
        with self._lock:
            if tag not in self._read:
                files = self.folder / f"dictionary-{tag}" / "index"
                there = tag.isalpha() and files.with_suffix(".dic").is_file()
                self._read[tag] = Dictionary.from_files(str(files)) if there else None
            return self._read[tag]

    def unknown(self, words: Iterable[str], language: str) -> list[str] | None:
        """The words that the language's dictionary does not know; None when there is no dictionary for it.

        A word with a typographic apostrophe is looked up with a plain one too.
        """
        dictionary = self._dictionary(language)
        if dictionary is None:
            return None
        return [w for w in words if not dictionary.lookup(w) and not dictionary.lookup(w.replace("’", "'"))]

    def better(self, word: str, language: str) -> list[str]:
        """Known words that are close to a word, the closest first; none without a dictionary."""
        dictionary = self._dictionary(language)
        if dictionary is None:
            return []
        out: list[str] = []
        end = time.monotonic() + LONGEST_LOOK
        for found in itertools.islice(dictionary.suggest(word.replace("’", "'")), MOST_BETTER):
            out.append(found.replace("'", "’") if "’" in word else found)
            if time.monotonic() > end:
                break
        return out
