"""How acts become operations."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import ValidationError

from nestline.acts import all_acts  # noqa: F401  (registers them)
from nestline.acts.acting import ACTS, ActError, Acting
from nestline.acts.completing import completed
from nestline.acts.seen import staying
from nestline.document import edits
from nestline.document.edits import Operation, Raw
from nestline.document.reading import in_users_words
from nestline.studio import Studio


def expanded(studio: Studio, raw: Raw, operations: Sequence[Operation]) -> list[Operation]:
    """The operations with every act turned into what it does, and those by which what is seen stays (`acts.seen`). Raises
    NestLineError."""
    out: list[Operation] = []
    begun = raw
    last_act = max((i for i, o in enumerate(operations) if isinstance(o, dict) and o.get("do") == "act"), default=-1)
    for index, operation in enumerate(operations):
        if index > last_act:
            out += operations[index:]
            break
        done = [operation] if operation.get("do") != "act" else _one(studio, raw, operation)
        if index < last_act and done:
            raw = edits.apply(raw, done).document
        out += done
    _check_fonts(studio, begun, out)
    return staying(studio, begun, out)


def _check_fonts(studio: Studio, raw: Raw, operations: Sequence[Operation]) -> None:
    """Raises FontError for a font that is named anew and is not there; one that the document names already stands."""
    named = set(edits.named("font", operations))
    for family in sorted(family for family in named if isinstance(family, str) and not studio.fonts.has_family(family)):
        if family not in set(edits.named("font", raw)):
            studio.fonts.check_family(family)


def _one(studio: Studio, raw: Raw, operation: Operation) -> list[Operation]:
    found = ACTS.get(str(operation.get("act")))
    if found is None:
        raise ActError(f"there is no act “{operation.get('act')}”")
    model, function = found
    try:
        given = model.model_validate(operation.get("given") or {})
    except ValidationError as error:
        raise in_users_words(error, ("given",)) from None
    at = Acting(studio, studio.read(raw))
    return completed(at, function(at, given))
