"""Make the demo account and load the demo's documents into it. Documents of the demo that are there already are
replaced."""

from collections.abc import Mapping
from typing import Any

from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand
from django.db import transaction

from assets.shelf import fill_shelf
from demo.documents import DEMO
from demo.pictures import SHELF, draw
from documents.exchange import as_json, bring_in
from documents.models import Document
from doors.compiling import await_loops

NAME, PASSWORD = "designer", "kite-day"
FORMER = ["Ticket screen"]
"""Titles of demo documents that others have taken the place of."""


class Command(BaseCommand):
    help = "Load the demo"
    requires_system_checks = ()

    def handle(self, *args: Any, **options: Any) -> None:
        user, _ = get_user_model().objects.get_or_create(username=NAME)
        user.set_password(PASSWORD)
        user.save()
        pictures = draw()
        fill_shelf([(file, title, words, pictures[f"pictures/{file}"]) for file, title, words, _ in SHELF])
        await_loops()
        with transaction.atomic():
            Document.objects.filter(owner=user, title__in=FORMER).delete()
            for make in DEMO:
                raw = make()
                Document.objects.filter(owner=user, title=raw["title"]).delete()
                bring_in(user.id, raw["title"], _archive(as_json(raw), pictures))
        self.stdout.write(f"{len(DEMO)} documents")


def _archive(document: bytes, pictures: Mapping[str, bytes]) -> bytes:
    import io
    import zipfile

    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("document.json", document)
        for name, content in pictures.items():
            archive.writestr(name, content)
    return out.getvalue()
