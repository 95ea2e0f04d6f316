"""Accounts from the command line: `./nest account add NAME`, `invite`, `list`."""

from __future__ import annotations

import secrets
from typing import Any

from django.contrib.auth.models import User
from django.core.management.base import BaseCommand, CommandError, CommandParser

from nestline.errors import NestLineError
from people.invitations import make_invitation
from people.log import happened
from people.names import checked_email, checked_name
from people.passwords import set_password


class Command(BaseCommand):
    help = "Make an account, or a link by which somebody makes one; list those there are"

    def add_arguments(self, parser: CommandParser) -> None:
        does = parser.add_subparsers(dest="does", required=True)
        add = does.add_parser("add", help="make an account; its password is asked for, or made up and printed")
        add.add_argument("name")
        add.add_argument("--email", default="")
        add.add_argument("--administrator", action="store_true", help="may invite, and sees /admin/")
        add.add_argument("--password-from-input", action="store_true", help="the first line of what is piped in")
        invite = does.add_parser("invite", help="print a link by which somebody makes an account of their own")
        invite.add_argument("--name", default="")
        invite.add_argument("--email", default="")
        invite.add_argument("--address", default="http://127.0.0.1:8017", help="where this installation is reached")
        does.add_parser("list", help="list the accounts")

    def handle(self, *args: Any, **given: Any) -> None:
        try:
            getattr(self, f"_{given['does']}")(given)
        except NestLineError as error:
            raise CommandError(str(error)) from None

    def _add(self, given: dict[str, Any]) -> None:
        user = User(username=checked_name(given["name"]), email=checked_email(given["email"]))
        user.is_staff = user.is_superuser = given["administrator"]
        made_up = "" if given["password_from_input"] else secrets.token_urlsafe(12)
        set_password(user, made_up or input())
        user.save()
        happened("account made", user, "from the command line")
        self.stdout.write(f"“{user.username}” has an account" + (f"; password: {made_up}" if made_up else ""))

    def _invite(self, given: dict[str, Any]) -> None:
        _, token = make_invitation(None, given["name"], given["email"], None)
        self.stdout.write(f"{given['address'].rstrip('/')}/invited/{token}")

    def _list(self, given: dict[str, Any]) -> None:
        for user in User.objects.order_by("username"):
            more = [
                user.email,
                "administrator" if user.is_superuser else "",
                "" if user.is_active else "may not come in",
            ]
            seen = user.last_login.strftime("%Y-%m-%d") if user.last_login else "never"
            self.stdout.write("  ".join([user.username, f"last here {seen}", *filter(None, more)]))
