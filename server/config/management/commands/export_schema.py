"""Write the API's schema, with that of a document's parts, to server/openapi.json, the open document's to
docs/document.schema.json, and the columns of records to the client."""

import json
import re
from pathlib import Path
from typing import Any, get_args

from django.core.management.base import BaseCommand

from config.urls import api
from doors.errors import described
from nestline.document.colors import BUILT_IN_COLORS
from nestline.document.model import CLEAR_BY_SIDE, TieEdge, edges_along
from nestline.document.schema import defaults, document_schema, parts_as_written
from nestline.findings.strain import GREATEST, LARGEST_TYPE, LEAST, TONGUES
from nestline.rows import SCREEN_RECORD

ROOT = Path(__file__).resolve().parents[4]
STRAIN = {"least": LEAST, "greatest": GREATEST, "largestType": LARGEST_TYPE}
SCHEMA = ROOT / "server" / "openapi.json"
DOCUMENT_SCHEMA = ROOT / "docs" / "document.schema.json"
RULES = ROOT / "web" / "src" / "api" / "rules.ts"
RECORDS = ROOT / "web" / "src" / "drawing" / "records.ts"


def schema_text() -> str:
    schema: dict[str, Any] = described(api.get_openapi_schema())
    parts = schema["components"]["schemas"]
    schema["components"]["schemas"] = {**parts, **parts_as_written("#/components/schemas/{model}")}
    return json.dumps(schema, indent=1, ensure_ascii=False, default=str) + "\n"


def document_schema_text() -> str:
    return json.dumps(document_schema(), indent=1, ensure_ascii=False, sort_keys=True) + "\n"


def records_text() -> str:
    """The columns of a nest's records as the client names them."""
    names = [re.sub("([A-Z])", r"_\1", name).upper() for name in SCREEN_RECORD]
    lines = "".join(f"export const {name} = {number};\n" for number, name in enumerate(names))
    return (
        "/** Columns of a nest's records (nestline.rows.SCREEN_RECORD). Written by `./nest schema`. */\n"
        f"{lines}export const COLUMNS = {len(names)};\n"
    )


def rules_text() -> str:
    """What the client says of rules that a document does not name, and which it offers, as the core has it."""
    ties = {edge: edges_along(edge) for edge in get_args(TieEdge)}
    known = {
        "DEFAULTS": defaults(),
        "COLORS": BUILT_IN_COLORS,
        "TIES": ties,
        "CLEAR_BY_SIDE": CLEAR_BY_SIDE,
        "TONGUES": TONGUES,
        "STRAIN": STRAIN,
    }
    lines = [f"export const {name} = {json.dumps(value, indent=2)} as const;\n" for name, value in known.items()]
    return (
        "/** Rules of the core that the client names (nestline.document). Written by `./nest schema`. */\n"
        + "".join(lines)
    )


class Command(BaseCommand):
    help = "Write the API's schema"

    def handle(self, *args: Any, **options: Any) -> None:
        SCHEMA.write_text(schema_text())
        DOCUMENT_SCHEMA.write_text(document_schema_text())
        RECORDS.write_text(records_text())
        RULES.write_text(rules_text())
        self.stdout.write(str(SCHEMA))
