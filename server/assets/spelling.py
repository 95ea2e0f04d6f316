"""The API of spelling marks."""

from __future__ import annotations

from functools import lru_cache

from django.conf import settings
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from nestline.copy.spelling import Speller

router = Router(tags=["spelling"])


@lru_cache(maxsize=1)
def speller() -> Speller:
    return Speller(settings.DICTIONARIES)


class WordsIn(Schema):
    language: str = Field(max_length=35)
    words: list[str] = Field(max_length=2000)


class WordsOut(Schema):
    known: bool
    """Whether there is a dictionary for the language."""
    unknown: list[str]


class WordIn(Schema):
    language: str = Field(max_length=35)
    word: str = Field(max_length=100)


class BetterOut(Schema):
    better: list[str]


@router.post("", response=WordsOut)
def unknown(request: HttpRequest, given: WordsIn) -> WordsOut:
    """Which of some words the language's dictionary does not know."""
    found = speller().unknown([w for w in given.words if len(w) <= 100], given.language)
    return WordsOut(known=found is not None, unknown=found or [])


@router.post("/better", response=BetterOut)
def better(request: HttpRequest, given: WordIn) -> BetterOut:
    """Known words close to one."""
    return BetterOut(better=speller().better(given.word, given.language))
