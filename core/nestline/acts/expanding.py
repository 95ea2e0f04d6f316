"""How acts become operations."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from pydantic import ValidationError

from nestline.acts import (
    all_acts,  # noqa: F401  (registers them)
    spreading,
)
from nestline.acts.acting import ACTS, Act, ActError, Acting, G
from nestline.acts.completing import completed
from nestline.acts.seen import staying
from nestline.document import edits
from nestline.document.edits import Operation, Raw
from nestline.document.reading import in_users_words
from nestline.studio import Studio


def expanded(studio: Studio, raw: Raw, operations: Sequence[Operation]) -> list[Operation]:
    """The operations with every act turned into what it does, and those by which what is seen stays (`acts.seen`).
    Raises NestLineError."""
    out: list[Operation] = []
    begun = raw
    operations = list(_opened(studio, raw, operations))
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


SPREADING: dict[str, tuple[type[spreading.Spread], Act]] = {
    "for-all": (spreading.ForAll, spreading.for_all),
    "onto-recipe": (spreading.OntoRecipe, spreading.onto_recipe),
}
"""Acts that hold operations meant for more than they name."""


def _opened(studio: Studio, raw: Raw, operations: Sequence[Operation]) -> Iterator[Operation]:
    """The operations with those that are held in others in their place, as changes of all that they are meant for."""
    for operation in operations:
        found = SPREADING.get(str(operation.get("act"))) if operation.get("do") == "act" else None
        if found is None:
            yield operation
            continue
        model, function = found
        given = _given(model, operation)
        inside = given.model_copy(update={"operations": list(_opened(studio, raw, given.operations))})
        yield from function(Acting(studio, studio.read(raw)), inside)


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
    at = Acting(studio, studio.read(raw))
    return completed(at, function(at, _given(model, operation)))


def _given(model: type[G], operation: Operation) -> G:
    try:
        return model.model_validate(operation.get("given") or {})
    except ValidationError as error:
        raise in_users_words(error, ("given",)) from None
