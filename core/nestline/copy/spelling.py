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

    def _dictionaries(self, language: str) -> list[Dictionary]:
        """The dictionary of exactly this language when there is one; otherwise all of its first part (`en` has two)."""
        tag = language.lower()
        names = [tag] if (self.folder / f"dictionary-{tag}").is_dir() and "-" in tag else []
        if not names and (base := tag.split("-")[0]).isalpha():
            names = [n for n in self.languages() if n.split("-")[0] == base]
        return [d for d in map(self._dictionary, names) if d]

    def _dictionary(self, tag: str) -> Dictionary | None:
        with self._lock:
            if tag not in self._read:
                files = self.folder / f"dictionary-{tag}" / "index"
                there = tag.replace("-", "").isalpha() and files.with_suffix(".dic").is_file()
                self._read[tag] = Dictionary.from_files(str(files)) if there else None
            return self._read[tag]

    def unknown(self, words: Iterable[str], language: str) -> list[str] | None:
        """The words that no dictionary of the language knows; None when there is none for it.

        A word with a typographic apostrophe is looked up with a plain one too.
        """
        dictionaries = self._dictionaries(language)
        if not dictionaries:
            return None

        def known(word: str) -> bool:
            return any(d.lookup(word) or d.lookup(word.replace("’", "'")) for d in dictionaries)

        return [w for w in words if not known(w)]

    def better(self, word: str, language: str) -> list[str]:
        """Known words that are close to a word, the closest first; none without a dictionary."""
        dictionaries = self._dictionaries(language)
        if not dictionaries:
            return []
        dictionary = dictionaries[0]
        out: list[str] = []
        end = time.monotonic() + LONGEST_LOOK
        for found in itertools.islice(dictionary.suggest(word.replace("’", "'")), MOST_BETTER):
            out.append(found.replace("'", "’") if "’" in word else found)
            if time.monotonic() > end:
                break
        return out
