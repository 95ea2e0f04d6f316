"""Write the API's schema to server/openapi.json and the open document's to docs/document.schema.json."""

import json
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand

from config.urls import api
from nestline.document.schema import document_schema

ROOT = Path(__file__).resolve().parents[4]
SCHEMA = ROOT / "server" / "openapi.json"
DOCUMENT_SCHEMA = ROOT / "docs" / "document.schema.json"


def schema_text() -> str:
    return json.dumps(api.get_openapi_schema(), indent=1, ensure_ascii=False, default=str) + "\n"


def document_schema_text() -> str:
    return json.dumps(document_schema(), indent=1, ensure_ascii=False, sort_keys=True) + "\n"


class Command(BaseCommand):
    help = "Write the API's schema"

    def handle(self, *args: Any, **options: Any) -> None:
        SCHEMA.write_text(schema_text())
        DOCUMENT_SCHEMA.write_text(document_schema_text())
        self.stdout.write(str(SCHEMA))
