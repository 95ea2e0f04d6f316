"""The open document's JSON Schema, written from the models (docs/document.schema.json)."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel
from pydantic.json_schema import GenerateJsonSchema, models_json_schema

from nestline.document.lengths import Length, Sides
from nestline.document.model import Group, Head, PageObject, PageSheet, Paragraph


class _Schema(GenerateJsonSchema):
    """Lengths that stand for themselves are written as they are in a document."""

    def encode_default(self, dft: Any) -> Any:
        return dft.raw if isinstance(dft, Length | Sides) else super().encode_default(dft)


def _without(keyword: str, part: Any, inside: str = "") -> Any:
    """A schema without one of its keywords; properties of that name stay."""
    if isinstance(part, list):
        return [_without(keyword, one) for one in part]
    if not isinstance(part, dict):
        return part
    return {k: _without(keyword, v, k) for k, v in part.items() if k != keyword or inside == "properties"}


def _parts(template: str) -> dict[str, Any]:
    """The schemas of a document's parts, by name; they name one another by the template."""
    models: list[tuple[type[BaseModel], Any]] = [
        (m, "validation") for m in (Head, PageSheet, PageObject, Group, Paragraph)
    ]
    _, schema = models_json_schema(models, ref_template=template, by_alias=True, schema_generator=_Schema)
    parts: dict[str, Any] = _without("title", schema["$defs"], "properties")  # fields are named by themselves
    objects = {
        "type": "array",
        "items": {"anyOf": [{"$ref": template.format(model=m)} for m in ("PageObject", "Group")]},
    }
    parts["PageSheet"]["properties"]["objects"] = objects
    parts["Group"]["properties"]["objects"] = objects
    parts["Group"]["required"] = ["id", "objects"]
    return parts


def parts_as_written(template: str) -> dict[str, Any]:
    """The schemas of a document's parts as they stand in documents: what has a default may be left out."""
    parts: dict[str, Any] = _without("default", _parts(template), "properties")
    return parts


def document_schema() -> dict[str, Any]:
    """A JSON Schema (2020-12) of a whole document. Lengths are numbers or strings; the reader checks their units."""
    parts = _parts("#/$defs/{model}")
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
