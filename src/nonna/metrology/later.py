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

import scipy

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
    if _NAME not in sys.modules:
        _register()
    return importlib.import_module("GTC")


def _register() -> None:
    """Put a module in its place that loads itself at the first look at a name."""
    spec = importlib.util.find_spec(_NAME)
    if spec is None or spec.loader is None:
        return
    loader = importlib.util.LazyLoader(spec.loader)
    spec.loader = loader
    module = importlib.util.module_from_spec(spec)
    sys.modules[_NAME] = module
    loader.exec_module(module)
    scipy.optimize = module  # "from scipy import optimize" looks here first, and does not load
