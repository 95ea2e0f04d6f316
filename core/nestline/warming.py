"""The compiled loops loaded before they are needed.

`python -m nestline.warming` compiles them where they have not been; with `--where` it says where they are kept.
"""

from __future__ import annotations

import sys
from importlib import import_module

from nestline.document.model import PageObject
from nestline.document.reading import Reader
from nestline.errors import NestLineError
from nestline.fonts.library import shipped_fonts
from nestline.nesting.compiled import nest_from
from nestline.nesting.nester import Nester
from nestline.outlines.polygons import Region

LOADED_LATE = ("nestline.output.pdf", "fontTools.varLib.instancer")
"""What `./nest set` loads only when it is asked for it; a server, and who stands by, has it at once."""


def _no_contour(thing: PageObject) -> Region:
    raise NestLineError(f"there is no picture “{thing.id}”")


def warm() -> None:
    """Load the loops: compile them first (minutes, once a machine) if they are not as they were compiled last."""
    copy = {
        "versions": {
            "en": {"paragraphs": [{"align": "justify", "runs": [{"text": "Bring string, bring friends. " * 9}]}]}
        }
    }
    frame = {"copy": "s", "sit": "middle", "padding": 4}
    objects = [
        {"id": "f", "x": 0, "y": 0, "width": 200, "height": 200, "outline": {"kind": "ellipse"}, "frame": frame},
        {"id": "g", "x": 0, "y": 0, "width": 60, "height": 30, "frame": {"copy": "s"}},
        {"id": "w", "x": 90, "y": 90, "width": 20, "height": 20, "wrap": {"by": "outline", "clearance": 2}},
    ]
    pages = [{"width": 300, "height": 300, "objects": objects}]
    document = Reader().read({"format": "nest-line", "version": 1, "copies": {"s": copy}, "pages": pages})
    for placed in Nester(shipped_fonts()).nest(document, _no_contour):
        _ = placed.nest.fill, placed.nest.drawn
    for library in LOADED_LATE:
        import_module(library)


def where() -> str:
    """The folder that the loops, compiled, are kept in for this checkout."""
    return str(nest_from.stats.cache_path)


if __name__ == "__main__":
    print(where()) if sys.argv[1:] == ["--where"] else warm()
