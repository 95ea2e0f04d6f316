"""Write a backup: `./nest backup FILE`."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from keeping.backup import backup
from nestline.errors import NestLineError


class Command(BaseCommand):
    help = "Write the database, pictures, fonts and the secret into one file"

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **given: Any) -> None:
        try:
            found = backup(given["file"].absolute())
        except NestLineError as error:
            raise CommandError(str(error)) from None
        self.stdout.write(
            f"accounts: {found['accounts']}, documents: {found['documents']}, files: {found['files']}, all "
            f"in {given['file']}"
        )
