"""Copy into outlines: the heart of the engine.

Its compiled loops call one another across modules, while Numba watches only a function's own file: so what has been
compiled is kept under a digest of all of them, and compiled again when any of them changes.
"""

import hashlib
import os
from pathlib import Path

import numba

_here = Path(__file__).parent
_files = [_here.parent / "rows.py", *sorted((_here / "compiled").glob("*.py"))]
_sources = b"".join(file.read_bytes() for file in _files)
_compiled = _here / "__pycache__" / f"compiled-{hashlib.sha256(_sources).hexdigest()[:12]}"
if "NUMBA_CACHE_DIR" not in os.environ:
    try:
        _compiled.mkdir(parents=True, exist_ok=True)
        numba.config.CACHE_DIR = str(_compiled)  # type: ignore[attr-defined]
    except OSError:
        pass  # a checkout that cannot be written to: Numba chooses a folder


def is_compiled() -> bool:
    """Whether the loops, as they are, have been compiled before on this machine."""
    return any(Path(numba.config.CACHE_DIR or _compiled).rglob("*.nbi"))  # type: ignore[attr-defined]
