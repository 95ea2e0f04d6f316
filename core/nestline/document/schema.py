"""The open document's JSON Schema, written from the models (docs/document.schema.json)."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel
from pydantic.json_schema import GenerateJsonSchema, models_json_schema
from pydantic_core import to_jsonable_python

from nestline.document.lengths import Length, Sides
from nestline.document.model import (
    Anchor,
    Contour,
    DropCap,
    Fill,
    Frame,
    Group,
    Head,
    HyphenLimits,
    Keep,
    Leaded,
    Leftover,
    ListMark,
    PageObject,
    PageSheet,
    Paragraph,
    Picture,
    Source,
    StretchLimits,
    Stroke,
    Wrap,
)


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
        (m, "validation") for m in (Head, PageSheet, PageObject, Group, Paragraph, Source)
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


def defaults() -> dict[str, dict[str, Any]]:
    """What holds where a part of an object or a paragraph does not say it: by part and field, as it would be
    written."""
    parts: dict[str, type[BaseModel]] = {
        "frame": Frame,
        "leftover": Leftover,
        "leaded": Leaded,
        "wrap": Wrap,
        "anchor": Anchor,
        "picture": Picture,
        "contour": Contour,
        "fill": Fill,
        "stroke": Stroke,
        "list": ListMark,
        "drop_cap": DropCap,
        "keep": Keep,
        "hyphenate": HyphenLimits,
        "stretch": StretchLimits,
    }
    return {
        name: {
            field.alias or key: to_jsonable_python(getattr(field.default, "raw", field.default))
            for key, field in model.model_fields.items()
            if not field.is_required() and field.default is not None and not isinstance(field.default, BaseModel)
            if field.default_factory is None
        }
        for name, model in parts.items()
    }


def document_schema() -> dict[str, Any]:
    """A JSON Schema (2020-12) of a whole document. Lengths are numbers or strings; the reader checks their units."""
    parts = _parts("#/$defs/{model}")
    ref = {name: {"$ref": f"#/$defs/{name}"} for name in parts}
    version = {
        "type": "object",
        "properties": {
            "language": {"type": "string"},
            "paragraphs": {"type": "array", "items": ref["Paragraph"]},
            "source": ref["Source"],
        },
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
