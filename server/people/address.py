"""From which address a request comes."""

from __future__ import annotations

from ipaddress import ip_address

from django.conf import settings
from django.http import HttpRequest


def client_address(request: HttpRequest) -> str | None:
    """The address of whoever asks: as many proxies as there are (NEST_PROXIES) each add one to X-Forwarded-For, the
    last on the right; what stands further left anybody may have written."""
    told = request.META.get("REMOTE_ADDR", "")
    if settings.PROXIES:
        passed = request.META.get("HTTP_X_FORWARDED_FOR", "").split(",")
        told = passed[-min(settings.PROXIES, len(passed))]
    try:
        return str(ip_address(told.strip()))
    except ValueError:
        return None
