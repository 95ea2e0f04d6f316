"""What each act and each rule may change of what is seen. All else stays where it is.

An act names objects (or copies, recipes, pages). Of what it names it may change what the table says; other objects
change only as they follow: what is tied to a changed object, what runs round it, what shares its copy, what stands in
its copy. `core/tests/test_seen.py` holds every act and rule to it, over random documents.
"""

from __future__ import annotations

from typing import Literal

Aspect = Literal["place", "size", "letters", "paint"]
"""Where an object stands and how it is turned; how large it is; where the letters in it stand; how it and its letters
are painted."""

NOTHING: frozenset[Aspect] = frozenset()
PLACE: frozenset[Aspect] = frozenset({"place"})
LETTERS: frozenset[Aspect] = frozenset({"letters"})
PAINT: frozenset[Aspect] = frozenset({"paint"})
BOX: frozenset[Aspect] = frozenset({"place", "size", "letters"})
"""A box that changes moves the letters in it."""
ALL: frozenset[Aspect] = BOX | PAINT

ACTS: dict[str, frozenset[Aspect]] = {
    # Where objects stand
    "move": PLACE | LETTERS,
    "place": BOX,
    "size": BOX,
    "turn": PLACE | LETTERS,
    "align": PLACE | LETTERS,
    "distribute": PLACE | LETTERS,
    "scale": ALL,
    "close-up": BOX,
    "go-under": BOX,
    "wrap": NOTHING,
    "stack": PAINT | LETTERS,
    "restack": PAINT | LETTERS,
    "group": NOTHING,
    "ungroup": NOTHING,
    "duplicate": NOTHING,
    "paste": NOTHING,
    "delete": ALL,
    "bring-svg": NOTHING,
    "place-picture": NOTHING,
    "replace-picture": PAINT | LETTERS,
    "into-outline": ALL,
    "out-of-outline": PAINT | LETTERS,
    # Outlines
    "draw": NOTHING,
    "combine": ALL,
    "add-point": NOTHING,
    "delete-points": ALL,
    "move-points": ALL,
    "point-kind": ALL,
    "move-handle": ALL,
    "to-path": NOTHING,
    "set-path": ALL,
    # Copy given and taken
    "give-copy": LETTERS,
    "take-copy": NOTHING,
    "join": LETTERS,
    "bring-text": LETTERS | PAINT,
    "dummy-copy": LETTERS | PAINT,
    "replace": LETTERS,
    "write": LETTERS,
    "type-line": NOTHING,
    "copy-to-outlines": NOTHING,
    # Styles, colours, versions
    "set-style": LETTERS | PAINT,
    "style-stretches": LETTERS | PAINT,
    "style-from": NOTHING,
    "rename-color": NOTHING,
    "replace-font": ALL,
    "set-rule": LETTERS | PAINT,
    "take-translation": LETTERS | PAINT,
    "keep-translation": NOTHING,
    "add-version": NOTHING,
    "bring-version": LETTERS | PAINT,
    "drop-version": LETTERS | PAINT,
    "rename-version": NOTHING,
    # Chains
    "link": LETTERS,
    "link-new": LETTERS,
    "go-on": LETTERS,
    "take-out-of-chain": LETTERS,
    "cut-chain": LETTERS,
    "jump-line": NOTHING,
    # What belongs to copy
    "anchor": BOX,
    "fit-in-line": BOX,
    "release": NOTHING,
    # Contours
    "contour-by-hand": NOTHING,
    "draw-contour": LETTERS,
    "contour-from-outline": LETTERS,
    "contour-from-svg": LETTERS,
    # Recipes: what follows one takes what it holds
    "save-recipe": NOTHING,
    "follow": ALL,
    "let-go": NOTHING,
    "return-to-recipe": ALL,
    "recipe-from": NOTHING,
    "drop-recipe": NOTHING,
    "rename-recipe": NOTHING,
    # Pages
    "guide": NOTHING,
    "add-page": NOTHING,
    "duplicate-page": NOTHING,
    "move-page": NOTHING,
    "delete-page": ALL,
}
"""Of the objects that an act names; its own new objects aside."""

RULES: dict[str, frozenset[Aspect]] = {
    "give": BOX,
    "least": BOX,
    "greatest": BOX,
    "whole_pixels": BOX,
    "fit_type": LETTERS,
    "padding": LETTERS,
    "columns": LETTERS,
    "gutter": LETTERS,
    "balance": LETTERS,
    "column_rule": PAINT,
    "setting": LETTERS,
    "sit": LETTERS,
    "lift": LETTERS,
    "hang": LETTERS,
    "hang_least": LETTERS,
    "stand": LETTERS,
    "band": LETTERS,
    "leftover": LETTERS,
    "wrap_lines": LETTERS,
    "pushed": LETTERS,
    "least_slot": LETTERS,
    "arms": LETTERS,
    "leaded": LETTERS,
}
"""Of a frame, when one of its rules is set otherwise. What gives takes another size when its copy does. Of `give` only
an axis that begins to give, by the edges that do (one axis and two find their size in different ways); taking
`fit_type` or all of `give` away changes nothing."""

FIELDS: dict[str, frozenset[Aspect]] = {
    "name": NOTHING,
    "pivot": NOTHING,
    "locked": NOTHING,
    "recipe": ALL,
    "departs": ALL,
    "ties": BOX,
    "wrap": NOTHING,
    "contour": NOTHING,
    "fill": PAINT,
    "stroke": PAINT | LETTERS,
    "paint": PAINT,
    "picture": PAINT,
    "hidden": ALL,
    "turn": PLACE | LETTERS,
    "x": PLACE | LETTERS,
    "y": PLACE | LETTERS,
    "width": BOX,
    "height": BOX,
    "outline": ALL,
    "anchor": BOX,
    "frame": LETTERS | PAINT,
}
"""Of an object, when one of its fields is set otherwise; letting ties, an anchor or a frame go changes no box."""
