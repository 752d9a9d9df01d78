"""Wily Heron for pipeline scripts: `import wily_heron as wh`. The names are documented in docs/python.md and in `facade`.

They are loaded when first asked for, so that a worker or a test that needs one part does not load all.
"""

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from .core.errors import InputError as InputError
    from .facade import *

__all__ = [
    "InputError", "Model", "Pack", "Piece", "Pose", "Wearer", "bind", "cast", "clear", "drape", "dress", "finish", "fit", "follow",
    "measure", "measures", "open_model", "open_pack", "pack", "picture", "pose", "poses", "receive", "trial", "wearer", "write",
]


def __getattr__(name: str) -> Any:
    if name == "InputError":
        return import_module(".core.errors", __name__).InputError
    if name in __all__:
        return getattr(import_module(".facade", __name__), name)
    raise AttributeError(f"module '{__name__}' has no attribute '{name}'")


def __dir__() -> list[str]:
    return sorted(__all__)
