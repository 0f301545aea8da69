"""Modules that load themselves when something of them is used: the one place where that is arranged."""

from __future__ import annotations

import importlib
import importlib.util
import sys
from types import ModuleType


def lazy_module(name: str) -> ModuleType:
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
