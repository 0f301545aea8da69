"""Loads scipy's optimisation when something of it is used.

The uncertainty library names it at its top for one function that we never call; with it come linear algebra, sparse
matrices and transforms: 23 MB and a tenth of a second that neither window nor command line has any use for.
"""

from __future__ import annotations

import importlib
import importlib.util
import sys
import threading
from types import ModuleType

_NAME = "scipy.optimize"
_LOADING = threading.Lock()


def optimize() -> ModuleType:
    """Return ``scipy.optimize``, loaded."""
    with _LOADING:  # before Python 3.11.9 two threads that meet an unloaded module may load it twice
        module = importlib.import_module(_NAME)
        module.brentq  # noqa: B018  # the first look at a name loads it
    return module


def gtc() -> ModuleType:
    """Return the uncertainty library, without what it names but does not need."""
    _lazy_module(_NAME)
    return importlib.import_module("GTC")


def _lazy_module(name: str) -> ModuleType:
    """Return a module that is loaded at the first look at a name in it; one that is loaded already as it is.

    The first look must not come from two threads at once (before Python 3.11.9 they may load it twice).
    Raises: ModuleNotFoundError.
    """
    if name in sys.modules:
        return sys.modules[name]
    spec = importlib.util.find_spec(name)
    if spec is None or spec.loader is None:
        raise ModuleNotFoundError(f"there is no module {name}", name=name)
    loader = importlib.util.LazyLoader(spec.loader)
    spec.loader = loader
    module = importlib.util.module_from_spec(spec)
    sys.modules[name] = module
    loader.exec_module(module)
    package, _, own = name.rpartition(".")
    if package:
        setattr(sys.modules[package], own, module)  # "from package import module" looks here first, and does not load
    return module
