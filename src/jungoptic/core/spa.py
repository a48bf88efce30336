"""The solar position algorithm, NREL/TP-560-34302, as pvlib has it.

Only that one module of the library is loaded: it needs nothing but NumPy, while the library as a
whole brings several seconds of other loading, which whoever first asks for the sun would wait for.
"""

from __future__ import annotations

import importlib.util
from functools import lru_cache
from pathlib import Path
from types import ModuleType


@lru_cache(maxsize=1)
def spa() -> ModuleType:
    """pvlib's module `spa`, loaded by itself. Raises ImportError when pvlib is not installed."""
    package = importlib.util.find_spec("pvlib")
    if package is None or not package.submodule_search_locations:
        raise ImportError("pvlib is not installed.")
    path = Path(package.submodule_search_locations[0]) / "spa.py"
    spec = importlib.util.spec_from_file_location("jungoptic_spa", path)
    if spec is None or spec.loader is None:
        raise ImportError(f"pvlib has no {path.name}.")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module
