"""Write the API's OpenAPI schema to server/openapi.json; the client's types are made from it."""

import json
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand

from config.urls import api

SCHEMA = Path(__file__).resolve().parents[3] / "openapi.json"


def schema_text() -> str:
    return json.dumps(api.get_openapi_schema(), indent=1, ensure_ascii=False, default=str) + "\n"


class Command(BaseCommand):
    help = "Write the API's schema"

    def handle(self, *args: Any, **options: Any) -> None:
        SCHEMA.write_text(schema_text())
        self.stdout.write(str(SCHEMA))
