"""Waiting for the loops that `./nest start` compiles beside all else: what is begun meanwhile compiles none of them
itself."""

import os
import time
from pathlib import Path

LONGEST = 1800
"""Seconds after which a compiling that has not ended is given up: whoever began it must be gone."""


def await_loops() -> None:
    """Return when the file that the variable NEST_AFTER names is there: at once where it names none.

    Raises RuntimeError when the compiling failed (something is written in the file), or has not ended after `LONGEST`
    seconds.
    """
    named = os.environ.get("NEST_AFTER")
    until = time.monotonic() + LONGEST
    while named and not Path(named).exists():
        if time.monotonic() > until:
            raise RuntimeError(f"the loops were not compiled: there is no {named}")
        time.sleep(0.1)
    if named and Path(named).read_text():
        raise RuntimeError("the loops were not compiled")
