"""Restore a backup into an empty home: `./nest restore FILE`."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from keeping.backup import restore
from nestline.errors import NestLineError


class Command(BaseCommand):
    help = "Fill an empty home from a backup"

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **given: Any) -> None:
        try:
            found = restore(given["file"].absolute())
        except NestLineError as error:
            raise CommandError(str(error)) from None
        call_command("migrate", interactive=False, verbosity=0)
        _keep_secret(settings.HOME / "env", found["secret"])
        self.stdout.write(f"back as of {found['made']}: accounts: {found['accounts']}, documents: {found['documents']}")


def _keep_secret(env: Path, secret: str) -> None:
    """The secret of before, so that who was signed in stays so."""
    if env.is_file() and secret and "\n" not in secret:
        lines = [line for line in env.read_text().splitlines() if not line.startswith("NEST_SECRET=")]
        env.write_text("\n".join([f"NEST_SECRET={secret}", *lines]) + "\n")
