"""The errors a user can cause, each with a sentence in the user's words."""

from __future__ import annotations

import lzma
import zipfile
import zlib
from collections.abc import Sequence


class NestLineError(Exception):
    """Something the user asked for cannot be done;
      the message says what and what would be right. `code` names the kind,
    for programs."""

    code = "cannot"


class DocumentError(NestLineError):
    """A field of a document is not valid: `path` is its JSON path, `message` says what is wrong and what is right."""

    code = "not-valid"

    def __init__(self, path: str, message: str) -> None:
        super().__init__(f"{path}: {message}")
        self.path = path
        self.message = message


def json_path(location: Sequence[str | int]) -> str:
    """A location as a JSON path: `("pages", 0, "width")` is `$.pages[0].width`."""
    out = "$"
    for step in location:
        if isinstance(step, int):
            out += f"[{step}]"
        elif step.replace("_", "a").isalnum():
            out += f".{step}"
        else:
            out += f'["{step}"]'
    return out


BROKEN_ARCHIVE = (
    zipfile.BadZipFile,
    zlib.error,
    lzma.LZMAError,
    RuntimeError,
    NotImplementedError,
    EOFError,
    OSError,
    ValueError,
)
"""What Python's zipfile raises for archives that are damaged, locked or packed in ways that it does not know."""
