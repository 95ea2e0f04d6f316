"""How the loops are compiled in half the time: what Python calls becomes machine code, what only loops call is linked into
it; on two cores.

Numba optimizes each function together with all that it calls, makes machine code of it, and does the same with whoever
calls it: the innermost loops eight times over. But kept and called is only what Python calls (all that
`nestline.nesting.compiled` names); of the rest the last of these times does. So functions below are handed on as they were
lowered. This reaches into Numba (`REACHED_INTO`; requirements.txt locks its version); where
it looks otherwise, it is let be, and everything is compiled as Numba does it.
"""

from __future__ import annotations

import ctypes
import gc
import importlib
import os
import pkgutil
import traceback
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from types import ModuleType
from typing import Any

from numba import _dynfunc  # type: ignore[attr-defined]
from numba.core.caching import NullCache
from numba.core.codegen import CPUCodeLibrary
from numba.core.cpu import CPUContext
from numba.core.dispatcher import Dispatcher
from numba.core.extending import _Intrinsic

from nestline.nesting import compiled

REACHED_INTO: list[tuple[Any, str]] = [
    (CPUCodeLibrary, "_optimize_final_module"),
    (CPUCodeLibrary, "_finalize_final_module"),
    (CPUContext, "get_executable"),
    (CPUCodeLibrary, "_finalize_dynamic_globals"),
]


LONGEST = ("solve_sit", "nest_from")
"""What takes three quarters of the time: the search for where lines sit, and all that it calls."""


def modules() -> list[ModuleType]:
    names = [f"{compiled.__name__}.{one.name}" for one in pkgutil.iter_modules(compiled.__path__)]
    return [compiled, *(importlib.import_module(name) for name in names)]


def inner_loops() -> dict[str, Any]:
    """The compiled functions that only compiled functions call, by their names."""
    loops = [thing for module in modules() for thing in vars(module).values() if isinstance(thing, Dispatcher)]
    called = {id(thing) for thing in vars(compiled).values()}
    return {loop.py_func.__qualname__: loop for loop in loops if id(loop) not in called}


class Loops:
    """The loops of all modules as they were: compiled when they are called, or what Python makes of them (`plain`)."""

    def __init__(self) -> None:
        self.all = [
            (module, name, thing)
            for module in modules()
            for name, thing in vars(module).items()
            if isinstance(thing, (Dispatcher, _Intrinsic))
        ]

    def compiled(self) -> None:
        for module, name, loop in self.all:
            setattr(module, name, loop)

    def keep_only(self, these: list[Any]) -> None:
        """Two processes that keep something of one function at a time would mix it up."""
        for loop in [loop for _, _, loop in self.all if isinstance(loop, Dispatcher)]:
            if not any(loop is one for one in these):
                _keep_nothing(loop)

    @contextmanager
    def plain(self) -> Iterator[None]:
        before = [(module, name, getattr(module, name)) for module, name, _ in self.all]
        for module, name, loop in self.all:
            setattr(module, name, loop.py_func if isinstance(loop, Dispatcher) else _itself)
        try:
            yield
        finally:
            for module, name, thing in before:
                setattr(module, name, thing)


def _keep_nothing(loop: Any) -> None:
    loop._cache = NullCache()


def _itself(array: Any) -> Any:
    """What the only intrinsic (`borrowing.borrowed`) is to Python."""
    return array


def compile_in_two(warm: Callable[[], None]) -> None:
    """Compile all that `warm` calls: the longest in a process beside this one, which has it from the first call.

    The first time all runs plainly, until the call comes; the second time all else is compiled. Should the other process
    fail, whoever warms next compiles what it left.
    """
    loops, beside = Loops(), list[int]()
    longest = {name: getattr(compiled, name) for name in LONGEST}

    def begin(*given: Any) -> Any:
        if not beside:
            beside.append(os.fork())
        if beside == [0]:
            loops.compiled()
            loops.keep_only(list(longest.values()))
            with _ending():
                longest[LONGEST[0]](*given)
        return longest[LONGEST[0]].py_func(*given)

    def aside(loop: Any) -> Callable[..., Any]:
        def run(*given: Any) -> Any:
            with loops.plain():
                return loop.py_func(*given)

        return run

    with linked():
        with loops.plain():
            setattr(compiled, LONGEST[0], begin)
            warm()
        for name, loop in longest.items():
            setattr(compiled, name, aside(loop))
        warm()
        loops.compiled()
        for process in beside:
            os.waitpid(process, 0)


@contextmanager
def _ending() -> Iterator[None]:
    """This process ends with what is done, however that ends."""
    try:
        yield
    except BaseException:
        traceback.print_exc()
    os._exit(0)


@contextmanager
def linked() -> Iterator[None]:
    """While it lasts, inner loops are linked into what calls them, and not kept; Python cannot call them in this process."""
    if not all(hasattr(owner, name) for owner, name in REACHED_INTO):
        yield
        return
    inner = inner_loops()
    for loop in inner.values():
        _keep_nothing(loop)
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
