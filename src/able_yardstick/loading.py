"""How the program is loaded: nothing is looked through for garbage, as what is loaded stays, and some is put off."""

import builtins
import gc
import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.util import LazyLoader, find_spec, module_from_spec


def put_off(name: str) -> None:
    """Load a module of a package only when something of it is asked for, whoever takes all names of the package."""
    spec = None if name in sys.modules else find_spec(name)
    if spec is None or spec.loader is None:
        return
    spec.loader = LazyLoader(spec.loader)
    module = sys.modules[name] = module_from_spec(spec)
    spec.loader.exec_module(module)
    package, _, last = name.rpartition(".")
    setattr(sys.modules[package], last, module)


def import_plainly() -> None:
    """Once Qt is there: leave out its hook, which reads the source of all that is imported for a dialect of its own."""
    builtins.__import__ = getattr(builtins, "__orig_import__", builtins.__import__)


def hold() -> None:
    """Collect nothing for a while, and let nobody look for plugins of the library that checks records."""
    gc.disable()
    os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")


def release() -> None:
    """Collect again, without ever looking through what is there by now."""
    gc.freeze()
    gc.enable()


@contextmanager
def without_garbage() -> Iterator[None]:
    """While millions of small things are made, all of which are kept, nothing is looked through for garbage."""
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_on:
            gc.enable()
