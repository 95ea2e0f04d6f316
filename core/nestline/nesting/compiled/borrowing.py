"""Arrays that are borrowed: handed on in compiled code without being counted.

Numba counts who holds an array whenever a named tuple that has it is handed to a function, or the array is taken from
that: an atomic step each, which for short functions is most of what they take. What comes from Python is held by the
caller for as long as a loop runs; so the loops borrow it when they are entered. Of arrays that compiled code makes
itself Numba lets go after their last use: who lends one keeps it (`kept`) until what borrows it has returned.
"""

from __future__ import annotations

from typing import Any

from numba import config, njit
from numba.core.imputils import impl_ret_untracked
from numba.extending import intrinsic


@intrinsic
def _borrowed(typingctx: Any, array: Any) -> Any:
    """The same array, its holders not counted. Of what its caller holds only."""

    def build(context: Any, builder: Any, signature: Any, given: Any) -> Any:
        made = context.make_array(signature.return_type)(context, builder, given[0])
        made.meminfo = made.meminfo.type(None)
        untracked: Any = impl_ret_untracked
        return untracked(context, builder, signature.return_type, made._getvalue())

    return array(array), build


borrowed: Any = _borrowed if not config.DISABLE_JIT else lambda array: array  # type: ignore[attr-defined]


@njit(cache=True)
def kept(value, *owners):
    """A value, its owners being held up to here: what it was worked out with was borrowed of them."""
    return value
