"""Names and addresses of accounts."""

from __future__ import annotations

import unicodedata

from django.contrib.auth.models import User
from django.contrib.auth.validators import UnicodeUsernameValidator
from django.core.exceptions import ValidationError
from django.core.validators import validate_email

from nestline.errors import NestLineError


def checked_name(name: str) -> str:
    """A name for a new account, in the form that is kept (NFKC, as Django's). Raises NestLineError."""
    found = unicodedata.normalize("NFKC", name.strip())
    try:
        UnicodeUsernameValidator()(found)
    except ValidationError:
        raise NestLineError("a name is made of letters, digits and @ . + - _ alone") from None
    if not 1 <= len(found) <= 60:
        raise NestLineError("a name has from 1 to 60 letters")
    if User.objects.filter(username__iexact=found).exists():
        raise NestLineError(f"somebody is called “{found}” already; take another name")
    return found


def checked_email(address: str) -> str:
    """An address for mails, or none. Raises NestLineError."""
    if found := address.strip():
        try:
            validate_email(found)
        except ValidationError:
            raise NestLineError(f"“{found[:80]}” is no e-mail address") from None
    return found
