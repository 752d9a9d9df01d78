"""The examples in the docstrings of the core are run."""

import doctest
import importlib
import pkgutil

import pytest

_ROOMS = ("mesh", "mesh.ops", "space", "figure.base", "figure.measures", "figure", "figure.make", "motion", "look", "table", "clearance",
          "clearance.cover", "bind", "drape", "model", "receive", "work", "bench", "fit.likely")


def modules() -> list[str]:
    found = ["wily_heron.core.memo"]
    for room in _ROOMS:
        package = importlib.import_module(f"wily_heron.core.{room}")
        found += [f"{package.__name__}.{m.name}" for m in pkgutil.iter_modules(package.__path__) if not m.ispkg]
    return found


@pytest.mark.parametrize("name", modules())
def test_the_examples_of_a_module_come_to_what_they_say(name: str):
    failed, _ = doctest.testmod(importlib.import_module(name), optionflags=doctest.NORMALIZE_WHITESPACE)
    assert not failed
