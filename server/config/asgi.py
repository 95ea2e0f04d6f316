"""The live process's application (config.live), for an ASGI server: `uvicorn config.asgi:application`."""

import os

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
django.setup()

from config.live import application  # noqa: E402

__all__ = ["application"]
