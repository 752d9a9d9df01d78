"""Wily Heron for pipeline scripts: `import wily_heron as wh`. The names are documented in docs/python.md and in `facade`.

They are loaded when first asked for, so that a worker or a test that needs one part does not load all.
"""

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from .core.errors import InputError as InputError
    from .facade import *  # noqa: F403

_NAMES = ("wearer", "cast", "measures", "poses", "pose", "open_model", "open_pack", "receive", "fit", "bind", "follow", "dress", "measure",
          "trial", "clear", "drape", "finish", "picture", "pack", "write", "Wearer", "Piece", "Pack", "Pose", "Model")
__all__ = ["InputError", *_NAMES]


def __getattr__(name: str) -> Any:
    if name == "InputError":
        return import_module(".core.errors", __name__).InputError
    if name in _NAMES:
        return getattr(import_module(".facade", __name__), name)
    raise AttributeError(f"module '{__name__}' has no attribute '{name}'")


def __dir__() -> list[str]:
    return sorted(__all__)
