"""The open document's JSON Schema, written from the models (docs/document.schema.json)."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel
from pydantic.json_schema import models_json_schema

from nestline.document.model import Head, PageObject, PageSheet, Paragraph


def document_schema() -> dict[str, Any]:
    """A JSON Schema (2020-12) of a whole document. Lengths are numbers or strings; the reader checks their units."""
    models: list[tuple[type[BaseModel], Any]] = [(m, "validation") for m in (Head, PageSheet, PageObject, Paragraph)]
    _, schema = models_json_schema(models, ref_template="#/$defs/{model}", by_alias=True)
    parts = schema["$defs"]
    ref = {name: {"$ref": f"#/$defs/{name}"} for name in parts}
    version = {
        "type": "object",
        "properties": {"language": {"type": "string"}, "paragraphs": {"type": "array", "items": ref["Paragraph"]}},
        "additionalProperties": False,
    }
    copy = {
        "type": "object",
        "properties": {"versions": {"type": "object", "minProperties": 1, "additionalProperties": version}},
        "additionalProperties": False,
    }
    page, head = parts.pop("PageSheet"), parts.pop("Head")
    page["properties"]["objects"] = {"type": "array", "items": ref["PageObject"]}
    head["properties"] |= {
        "copies": {"type": "object", "additionalProperties": copy},
        "pages": {"type": "array", "minItems": 1, "items": page},
    }
    head["required"] = ["format", "version", "pages"]
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        **head,
        "title": "Nest Line document",
        "$defs": parts,
    }
