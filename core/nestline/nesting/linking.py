"""How the loops are compiled in little more than half of the time: what Python calls becomes machine code, what only loops
call is linked into it.

Numba optimizes each function together with all that it calls, makes machine code of it, and does the same with whoever
calls it: the innermost loops eight times over. But kept and called is only what Python calls (all that
`nestline.nesting.compiled` names); of the rest, and of what Numba brings itself, the last of these times does. So functions
below are handed on as they were lowered. Most of what is left is Numba's own Python: where each word stands and all
variables, which it copies for each block that it inlines, are shared, and options are compared at once. This reaches into
Numba (`REACHED_INTO`; requirements.txt locks its version); where it looks otherwise, it is let be, and everything is compiled
as Numba does it.
"""

from __future__ import annotations

import ctypes
import gc
import importlib
import pkgutil
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache
from typing import Any

from numba import _dynfunc  # type: ignore[attr-defined]
from numba.core import event
from numba.core.caching import NullCache
from numba.core.codegen import CPUCodeLibrary
from numba.core.cpu import CPUContext
from numba.core.dispatcher import Dispatcher
from numba.core.ir import Loc, Scope
from numba.core.targetconfig import TargetConfig

from nestline.nesting import compiled

REACHED_INTO: list[tuple[Any, str]] = [
    (CPUCodeLibrary, "_optimize_final_module"),
    (CPUCodeLibrary, "_finalize_final_module"),
    (CPUCodeLibrary, "_finalize_dynamic_globals"),
    (CPUContext, "get_executable"),
    (TargetConfig, "options"),
    (TargetConfig, "values"),
    (Loc, "with_lineno"),
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
    inner = _Inner()
    libraries: Any = CPUCodeLibrary
    optimize, finalize = libraries._optimize_final_module, libraries._finalize_final_module
    executable: Any = CPUContext.get_executable

    def optimized(library: Any) -> None:
        if library.name not in inner.names:
            optimize(library)

    def finalized(library: Any) -> None:
        if library.name not in inner.names:
            finalize(library)
            return
        library._finalize_dynamic_globals()
        library._finalized = True

    def executed(context: Any, library: Any, function: Any, environment: Any) -> Any:
        if library.name not in inner.names:
            return executable(context, library, function, environment)
        module, name = function.lookup_module(), function.qualname
        return _dynfunc.make_function(module, name, "", _nobody, environment, (library,))

    with (
        _without_collections(),
        event.install_listener("numba:compile", inner),
        _instead(CPUCodeLibrary, "_optimize_final_module", optimized),
        _instead(CPUCodeLibrary, "_finalize_final_module", finalized),
        _instead(CPUContext, "get_executable", executed),
        _instead(TargetConfig, "values", _options),
        _instead(Loc, "__deepcopy__", _itself),
        _instead(Scope, "__deepcopy__", _itself),
    ):
        yield


class _Inner(event.Listener):
    """The names of what only compiled functions call: the loops that nobody names, and what Numba brings for them."""

    def __init__(self) -> None:
        loops = inner_loops()
        for loop in loops.values():
            loop._cache = NullCache()
        self.names = set(loops)
        self.called = {id(thing) for thing in vars(compiled).values()}

    def on_start(self, event: Any) -> None:
        function = event.data["dispatcher"]
        if id(function) not in self.called:
            self.names.add(function.py_func.__qualname__)
            function.targetoptions.update(no_cpython_wrapper=True, no_cfunc_wrapper=True)

    def on_end(self, event: Any) -> None:
        pass


def _options(given: Any) -> dict[str, Any]:
    """What options come to; Numba asks for it by each property when it looks whether it has compiled something."""
    kind: Any = type(given)
    return {**_by_themselves(kind), **given._values}


def _itself(one: Any, _: Any) -> Any:
    """What is copied with each block of a function that is inlined: where each of its words stands, and all its variables."""
    return one


@cache
def _by_themselves(kind: Any) -> dict[str, Any]:
    return {name: option.default for name, option in kind.options.items()}


@contextmanager
def _instead(owner: Any, name: str, other: Any) -> Iterator[None]:
    before = vars(owner).get(name)
    setattr(owner, name, other)
    try:
        yield
    finally:
        if before is None:
            delattr(owner, name)
        else:
            setattr(owner, name, before)


@contextmanager
def _without_collections() -> Iterator[None]:
    """What is compiled is kept anyway, and would be looked through again and again."""
    gc.disable()
    try:
        yield
    finally:
        gc.enable()


_nobody = ctypes.cast(ctypes.pythonapi.PyErr_NoMemory, ctypes.c_void_p).value
"""What an inner loop is to Python here: something that only raises MemoryError (there is no code to be called)."""
