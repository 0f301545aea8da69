"""Loads scipy's optimisation when something of it is used.

The uncertainty library names it at its top for one function that we never call; with it come linear algebra, sparse
matrices and transforms: 23 MB and a tenth of a second that neither window nor command line has any use for.
"""

from __future__ import annotations

import importlib
import threading
from types import ModuleType

from nonna.lazy_modules import lazy_module

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
    lazy_module(_NAME)
    return importlib.import_module("GTC")
