"""How the loops are compiled in two thirds of the time: what Python calls becomes machine code, what only loops call is
linked into it.

Numba optimizes each function together with all that it calls, makes machine code of it, and does the same with whoever
calls it: the innermost loops eight times over. But kept and called is only what Python calls (all that
`nestline.nesting.compiled` names); of the rest the last of these times does. So functions below are handed on as they were
lowered. This reaches into Numba (`REACHED_INTO`; requirements.txt locks its version); where it looks otherwise, it is let
be, and everything is compiled as Numba does it.
"""

from __future__ import annotations

import ctypes
import gc
import importlib
import pkgutil
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from numba import _dynfunc  # type: ignore[attr-defined]
from numba.core.caching import NullCache
from numba.core.codegen import CPUCodeLibrary
from numba.core.cpu import CPUContext
from numba.core.dispatcher import Dispatcher

from nestline.nesting import compiled

REACHED_INTO: list[tuple[Any, str]] = [
    (CPUCodeLibrary, "_optimize_final_module"),
    (CPUCodeLibrary, "_finalize_final_module"),
    (CPUContext, "get_executable"),
    (CPUCodeLibrary, "_finalize_dynamic_globals"),
]


def inner_loops() -> dict[str, Any]:
    """The compiled functions that only compiled functions call, by their names."""
    modules = [
        importlib.import_module(f"{compiled.__name__}.{one.name}") for one in pkgutil.iter_modules(compiled.__path__)
    ]
    loops = [thing for module in modules for thing in vars(module).values() if isinstance(thing, Dispatcher)]
    called = {id(thing) for thing in vars(compiled).values()}
    return {loop.py_func.__qualname__: loop for loop in loops if id(loop) not in called}


@contextmanager
def linked() -> Iterator[None]:
    """While it lasts, inner loops are linked into what calls them, and not kept; Python cannot call them in this process."""
    if not all(hasattr(owner, name) for owner, name in REACHED_INTO):
        yield
        return
    inner = inner_loops()
    for loop in inner.values():
        loop._cache = NullCache()
        loop.targetoptions.update(no_cpython_wrapper=True, no_cfunc_wrapper=True)
    before = [getattr(owner, name) for owner, name in REACHED_INTO]
    optimize, finalize, executable, _ = before

    def optimized(library: Any) -> None:
        if library.name not in inner:
            optimize(library)

    def finalized(library: Any) -> None:
        if library.name not in inner:
            finalize(library)
            return
        library._finalize_dynamic_globals()
        library._finalized = True

    def executed(context: Any, library: Any, function: Any, environment: Any) -> Any:
        if library.name not in inner:
            return executable(context, library, function, environment)
        module, name = function.lookup_module(), function.qualname
        return _dynfunc.make_function(module, name, "", _nobody, environment, (library,))

    gc.disable()  # what is compiled is kept anyway, and would be looked through again and again
    for (owner, name), after in zip(REACHED_INTO, (optimized, finalized, executed), strict=False):
        setattr(owner, name, after)
    try:
        yield
    finally:
        for (owner, name), as_it_was in zip(REACHED_INTO, before, strict=True):
            setattr(owner, name, as_it_was)
        gc.enable()


_nobody = ctypes.cast(ctypes.pythonapi.PyErr_NoMemory, ctypes.c_void_p).value
"""What an inner loop is to Python here: something that only raises MemoryError (there is no code to be called)."""
