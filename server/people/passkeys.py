"""Passkeys (W3C WebAuthn): made where one is signed in, used in place of name and password. The library checks
signatures."""

from __future__ import annotations

import hashlib
import json
from datetime import datetime
from typing import Any
from urllib.parse import urlsplit

import webauthn
from django.contrib.auth.models import User
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema
from pydantic import Field
from webauthn.helpers import base64url_to_bytes, bytes_to_base64url
from webauthn.helpers.exceptions import InvalidAuthenticationResponse, InvalidRegistrationResponse, WebAuthnException
from webauthn.helpers.structs import (
    AuthenticatorSelectionCriteria,
    PublicKeyCredentialDescriptor,
    ResidentKeyRequirement,
    UserVerificationRequirement,
)

from doors.asked import Asked
from doors.errors import ErrorOut, SaidOut
from nestline.errors import NestLineError
from people.errors import NotThere
from people.log import happened
from people.models import Passkey
from people.sessions import SessionOut, enter, same_site

own = Router(tags=["account"])
"""For who is signed in."""
entry = Router(tags=["entry"])
"""For who is not."""
MOST = 20
"""Passkeys that somebody may have."""
_CHALLENGE = "passkey"
NOT_TAKEN = "this passkey could not be checked; try again, or sign in with name and password"


class OptionsOut(Schema):
    """What the browser is asked for: PublicKeyCredentialCreationOptions or …RequestOptions as JSON (WebAuthn)."""

    options: dict[str, Any]


class MadeIn(Schema):
    """What the browser answered: RegistrationResponseJSON or AuthenticationResponseJSON."""

    answer: dict[str, Any]
    name: str = Field("", max_length=80)


class PasskeyOut(Schema):
    id: int
    name: str
    made: datetime
    used: datetime | None

    @staticmethod
    def of(row: Passkey) -> PasskeyOut:
        return PasskeyOut(id=row.id, name=row.name, made=row.made, used=row.used)


def _host(request: HttpRequest) -> str:
    return urlsplit(f"//{request.get_host()}").hostname or ""


def _origin(request: HttpRequest) -> str:
    return f"{request.scheme}://{request.get_host()}"


def _ask(request: HttpRequest, options: Any) -> OptionsOut:
    request.session[_CHALLENGE] = bytes_to_base64url(options.challenge)
    return OptionsOut(options=json.loads(webauthn.options_to_json(options)))


def _asked(request: HttpRequest) -> bytes:
    """The challenge that was given; it is good once. Raises NestLineError."""
    challenge = request.session.pop(_CHALLENGE, None)
    if challenge is None:
        raise NestLineError(NOT_TAKEN)
    return base64url_to_bytes(challenge)


@own.post("/passkeys/begin", response={200: OptionsOut, 400: ErrorOut})
def begin_passkey(request: Asked) -> OptionsOut:
    """What the browser is to make a passkey of."""
    if request.user.passkeys.count() >= MOST:  # type: ignore[attr-defined]
        raise NestLineError(f"you have {MOST} passkeys; take one away first")
    known = Passkey.objects.filter(user=request.user).values_list("credential", flat=True)
    return _ask(
        request,
        webauthn.generate_registration_options(
            rp_id=_host(request),
            rp_name="Nest Line",
            user_name=request.user.get_username(),
            user_id=hashlib.sha256(f"nest-line {request.user.pk}".encode()).digest(),
            exclude_credentials=[PublicKeyCredentialDescriptor(id=bytes(one)) for one in known],
            authenticator_selection=AuthenticatorSelectionCriteria(
                resident_key=ResidentKeyRequirement.REQUIRED, user_verification=UserVerificationRequirement.REQUIRED
            ),
        ),
    )


@own.post("/passkeys", response={200: PasskeyOut, 400: ErrorOut})
def keep_passkey(request: Asked, given: MadeIn) -> PasskeyOut:
    """Keep a passkey that the browser made."""
    challenge = _asked(request)
    try:
        checked = webauthn.verify_registration_response(
            credential=given.answer,
            expected_challenge=challenge,
            expected_rp_id=_host(request),
            expected_origin=_origin(request),
            require_user_verification=True,
        )
    except (InvalidRegistrationResponse, WebAuthnException, ValueError, KeyError, TypeError):
        raise NestLineError("this passkey could not be kept; try again") from None
    row = Passkey.objects.create(
        user=request.user,
        credential=checked.credential_id,
        public_key=checked.credential_public_key,
        count=checked.sign_count,
        name=given.name.strip().replace("\0", "") or "Passkey",
    )
    happened("passkey made", request.user, row.name, request)  # type: ignore[arg-type]
    return PasskeyOut.of(row)


@own.delete("/passkeys/{passkey_id}", response={200: SaidOut, 404: ErrorOut})
def drop_passkey(request: Asked, passkey_id: int) -> SaidOut:
    """Take a passkey away; it does not let anybody in any more."""
    row = Passkey.objects.filter(id=passkey_id, user=request.user).first()
    if row is None:
        raise NotThere("this passkey is not here any more")
    row.delete()
    happened("passkey taken away", request.user, row.name, request)  # type: ignore[arg-type]
    return SaidOut(message=f"“{row.name}” is gone")


@entry.post("/passkey/begin", response=OptionsOut)
def ask_for_passkey(request: HttpRequest) -> OptionsOut:
    """What the browser is to sign, with whichever passkey of this address it has."""
    same_site(request)
    return _ask(
        request,
        webauthn.generate_authentication_options(
            rp_id=_host(request), user_verification=UserVerificationRequirement.REQUIRED
        ),
    )


@entry.post("/passkey", response={200: SessionOut, 400: ErrorOut})
def enter_by_passkey(request: HttpRequest, given: MadeIn) -> SessionOut:
    """Sign in with a passkey."""
    same_site(request)
    challenge = _asked(request)
    user = _user_of(request, challenge, given.answer)
    if user is None:
        happened("sign-in failed", None, "passkey", request)
        raise NestLineError(NOT_TAKEN)
    enter(request, user, "passkey")
    return SessionOut(name=user.get_username())


def _user_of(request: HttpRequest, challenge: bytes, answer: dict[str, Any]) -> User | None:
    try:
        row = Passkey.objects.select_related("user").get(credential=base64url_to_bytes(str(answer.get("rawId", ""))))
        checked = webauthn.verify_authentication_response(
            credential=answer,
            expected_challenge=challenge,
            expected_rp_id=_host(request),
            expected_origin=_origin(request),
            credential_public_key=bytes(row.public_key),
            credential_current_sign_count=row.count,
            require_user_verification=True,
        )
    except (Passkey.DoesNotExist, InvalidAuthenticationResponse, WebAuthnException, ValueError, KeyError, TypeError):
        return None
    if not row.user.is_active:
        return None
    row.count, row.used = checked.new_sign_count, timezone.now()
    row.save(update_fields=["count", "used"])
    return row.user
