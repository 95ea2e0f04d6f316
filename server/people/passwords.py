"""Passwords: set where Django's validators agree, checked one at a time."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from django.contrib.auth import password_validation
from django.contrib.auth.models import User
from django.core.exceptions import ValidationError

from doors.errors import TooMany
from nestline.errors import NestLineError

_checking = threading.Semaphore(1)


@contextmanager
def checking() -> Iterator[None]:
    """One password is checked at a time in a process: it takes a second of the machine, and others drag meanwhile."""
    if not _checking.acquire(timeout=3):
        raise TooMany("many are signing in just now; try again in a moment")
    try:
        yield
    finally:
        _checking.release()


def set_password(user: User, password: str) -> None:
    """Give an account a password; it is not saved yet. Raises NestLineError where it is too weak, in words."""
    try:
        password_validation.validate_password(password, user)
    except ValidationError as error:
        raise NestLineError(" ".join(error.messages)) from None
    with checking():
        user.set_password(password)


def is_password_of(user: User, password: str) -> bool:
    with checking():
        return user.check_password(password)
