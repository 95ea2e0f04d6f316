"""The API's reference, as a page: written from the schema and the examples, for people."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from functools import cache
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.html import escape, format_html, format_html_join
from django.utils.safestring import SafeString, mark_safe
from ninja import NinjaAPI

from doors.examples import EXAMPLES

Schema = dict[str, Any]
HEADS = {
    "session": "Session",
    "entry": "Invitations, passwords, passkeys",
    "account": "Account",
    "teams": "Teams",
    "documents": "Documents",
    "jobs": "Jobs",
    "recipes": "Recipes",
    "libraries": "Libraries of teams",
    "": "Lengths",
    "spelling": "Spelling",
    "texts": "Text files",
    "shelf": "Shelf",
    "assets": "Pictures and fonts",
}
"""What groups of operations are called."""


def reference(api: NinjaAPI) -> Callable[[HttpRequest], HttpResponse]:
    """The view of an API's reference: all operations by group, what they take and give, with examples."""

    def view(request: HttpRequest) -> HttpResponse:
        return render(request, "reference.html", _page(json.dumps(api.get_openapi_schema(), default=str)))

    return view


@cache
def _page(schema: str) -> dict[str, Any]:
    whole = json.loads(schema)
    groups: dict[str, list[Schema]] = {}
    for path, operations in whole["paths"].items():
        for method, operation in operations.items():
            groups.setdefault((operation.get("tags") or [""])[0], []).append(
                _operation(method.upper(), path, operation)
            )
    return {
        "groups": [
            {"id": f"of-{tag or 'lengths'}", "head": HEADS.get(tag, tag), "operations": found}
            for tag, found in groups.items()
        ],
        "shapes": [_shape(name, shape) for name, shape in sorted(whole["components"]["schemas"].items())],
        "examples": [
            {"of": one, "says": _said(one.says), "given": _json(one.given), "answer": _json(one.answer)}
            for one in EXAMPLES
        ],
    }


def _operation(method: str, path: str, operation: Schema) -> Schema:
    bodies = operation.get("requestBody", {}).get("content", {})
    return {
        "id": operation["operationId"],
        "method": method,
        "path": path,
        "says": _said(operation.get("description", "")),
        "parameters": [
            {"name": one["name"], "type": _type(one["schema"]), "needed": one.get("required", False), "says": ""}
            for one in operation.get("parameters", [])
        ],
        "body": [_body(kind, body["schema"]) for kind, body in bodies.items()],
        "answers": [
            {"status": status, "types": [_type(a["schema"]) for a in answer.get("content", {}).values()]}
            for status, answer in operation["responses"].items()
        ],
        "examples": [number for number, one in enumerate(EXAMPLES) if (one.operation, one.method) == (path, method)],
    }


def _said(text: str) -> SafeString:
    """Words with names of fields in them, which stand between backticks."""
    return mark_safe(re.sub(r"`([^`]+)`", r"<code>\1</code>", escape(text)))


def _body(kind: str, schema: Schema) -> SafeString:
    if kind == "application/json":
        return _type(schema)
    names = format_html_join(", ", "<code>{}</code>", ((name,) for name in schema.get("properties", {})))
    return format_html("a form with the file {}", names)


def _shape(name: str, shape: Schema) -> Schema:
    needed = set(shape.get("required", ()))
    return {
        "name": name,
        "says": _said(shape.get("description", "")),
        "type": "" if "properties" in shape else _type(shape),
        "fields": [
            {
                "name": one,
                "type": _type(about),
                "needed": one in needed,
                "says": _said(about.get("description", "")),
                "default": _default(about),
            }
            for one, about in shape.get("properties", {}).items()
        ],
    }


def _default(about: Schema) -> str:
    return "" if about.get("default") in (None, "", [], {}) else json.dumps(about["default"], ensure_ascii=False)


def _type(about: Schema, several: bool = False) -> SafeString:
    """A type in words, with links to the shapes that it names; `several` where there is a list of it."""
    if "$ref" in about:
        name = about["$ref"].rpartition("/")[2]
        return format_html('<a href="#{}">{}</a>', name, name)
    if choices := about.get("anyOf") or about.get("oneOf"):
        found = list(dict.fromkeys(_type(one, several) for one in choices))
        return mark_safe(" or ".join(found))  # each of them is escaped
    if "allOf" in about:
        return _type(about["allOf"][0])
    if "enum" in about or "const" in about:
        values = about.get("enum", [about.get("const")])
        return format_html_join(" · ", "<code>{}</code>", ((json.dumps(v, ensure_ascii=False),) for v in values))
    kind = about.get("type")
    if kind == "array":
        if "prefixItems" in about:
            return format_html("[{}]", format_html_join(", ", "{}", ((_type(one),) for one in about["prefixItems"])))
        return format_html("list of {}", _type(about.get("items", {}), several=True))
    if kind == "object" and isinstance(about.get("additionalProperties"), dict):
        return format_html("names to {}", _type(about["additionalProperties"]))
    words = {
        "string": "text",
        "integer": "whole number",
        "number": "number",
        "boolean": "true or false",
        "null": "null",
        "object": "object",
    }
    said = words.get(kind or "", "anything")
    if several and kind in ("integer", "number", "object"):
        said += "s"
    if about.get("format") == "date-time":
        said = "time"
    if "maxLength" in about:
        said += f", at most {about['maxLength']} letters"
    return mark_safe(escape(said))


def _json(value: Any) -> str:
    """JSON with what is small side by side, so that it reads like a sheet and not like a ladder."""
    return "" if value is None else re.sub(r'"(\{\w+\})"', r"\1", _laid_out(value, 0))


WIDE = 84
"""Letters of a line of JSON."""


def _laid_out(value: Any, depth: int) -> str:
    flat = json.dumps(value, ensure_ascii=False)
    if len(flat) + depth <= WIDE or not isinstance(value, (dict, list)):
        return flat
    pad, end = " " * (depth + 2), " " * depth
    opens, closes = "{}" if isinstance(value, dict) else "[]"
    keys = (
        [f"{json.dumps(key, ensure_ascii=False)}: " for key in value] if isinstance(value, dict) else [""] * len(value)
    )
    members = value.values() if isinstance(value, dict) else value
    rows = [""]
    for key, member in zip(keys, members, strict=True):
        one = key + _laid_out(member, depth + 2)
        beside = f"{rows[-1]}, {one}"
        if rows[-1] and "\n" not in beside and len(beside) + depth + 2 <= WIDE:
            rows[-1] = beside
        else:
            rows.append(one)
    return f"{opens}\n" + ",\n".join(f"{pad}{row}" for row in rows[1:]) + f"\n{end}{closes}"
