"""All that an account has here, in one archive: to be taken along."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from contextlib import suppress

import orjson
from django.contrib.auth.models import User
from django.utils.text import slugify

from assets import media
from assets.models import Font, Picture, Recipe
from documents.exchange import as_json
from documents.models import Document
from documents.store import raw_of
from people.models import Happening, Member, Visit

README = """Everything that Nest Line keeps of one account.

documents/  each document in the open format (docs/document-format.md of the application); deleted/ those in the bin.
            To bring one in elsewhere, zip it as document.json together with pictures/.
pictures/   pictures, by the names that documents call them
fonts/      fonts that were brought
recipes.json, account.json
"""


def all_of(user: User, tell: Callable[[float], None] = lambda share: None) -> bytes:
    """A zip archive of a user's documents, pictures, fonts and recipes, and of what is kept of them."""
    out = io.BytesIO()
    documents = Document.objects.filter(owner=user).order_by("id")
    pictures = Picture.objects.filter(owner=user).order_by("id")
    fonts = Font.objects.filter(owner=user).order_by("id")
    count, done = max(documents.count() + pictures.count() + fonts.count(), 1), 0
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("READ-ME.txt", README)
        for row in documents:
            folder = "deleted" if row.deleted else "documents"
            archive.writestr(f"{folder}/{row.id}-{slugify(row.title)[:60] or 'document'}.json", as_json(raw_of(row)))
            done += 1
            tell(done / count)
        for file, kept in [*((p.file, p.kept) for p in pictures), *((_font_file(f), f.kept) for f in fonts)]:
            _put(archive, file, kept)
            done += 1
            tell(done / count)
        recipes = {r.name: r.rules for r in Recipe.objects.filter(owner=user)}
        archive.writestr(
            "recipes.json",
            orjson.dumps({"format": "nest-line-recipes", "version": 1, "recipes": recipes}, option=orjson.OPT_INDENT_2),
        )
        archive.writestr("account.json", orjson.dumps(_account(user), option=orjson.OPT_INDENT_2))
    return out.getvalue()


def _font_file(font: Font) -> str:
    return f"fonts/{slugify(font.family)}-{font.weight}-{font.slope}.otf"


def _put(archive: zipfile.ZipFile, file: str, kept: str) -> None:
    with suppress(FileNotFoundError):
        archive.writestr(file, media.read(kept), zipfile.ZIP_STORED)


def _account(user: User) -> dict[str, object]:
    return {
        "name": user.get_username(),
        "email": user.email,
        "made": user.date_joined,
        "teams": list(Member.objects.filter(user=user).values("team__name", "keeper")),
        "sessions": list(Visit.objects.filter(user=user).values("made", "seen", "agent", "address", "by")),
        "happened": list(Happening.objects.filter(user=user).values("at", "what", "about", "address")),
    }
