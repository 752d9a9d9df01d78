"""The numbers that draw the body, read from their tables.

Each row of `lofts.csv` is a section of a part: where it stands along it, its centre, how far it reaches to each of the four sides, and the
exponent of its superellipse. Each row of `details.csv` is a round cone (from a place to another, its radii), an ellipsoid (its place and
radii) or a bump (its place, widths and height). All in metres. A cell is a sum of numbers and of numbers times the sizes that the body's
shape gives.
"""

import csv
import re
import tomllib
from collections.abc import Mapping
from functools import cache
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np

_FOLDER = Path(__file__).with_name("numbers")
_TERM = re.compile(r"(?P<factor>-?[\d.]+)(?: \* (?P<size>\w+))?|(?P<alone>\w+)")


def sections(part: str, **sizes: float) -> list[tuple[float, ...]]:
    """Return the sections of a part, 8 numbers each: along, centre side, centre front, inward, outward, front, back, exponent.

    Raises `KeyError` for a size that the part asks for and was not given.

    >>> sections("hand", flesh=0.0)[0]
    (0.0, 0.0, 0.0, 0.027, 0.027, 0.0175, 0.0175, 2.2)
    """
    return [tuple(total(cell, sizes) for name, cell in row.items() if name != "part") for row in _rows("lofts.csv", part)]


class Detail(NamedTuple):
    """A primitive: a cone from `at` to `to`, an ellipsoid or a bump at `at`, in metres; `groups` are the parts of the body it joins."""

    kind: str
    groups: list[str]
    blend: float
    at: tuple[float, ...]
    to: tuple[float, ...]
    size: tuple[float, ...]
    height: float


def details(part: str, **sizes: float) -> list[Detail]:
    """Return the primitives of a part. Raises `KeyError` for a size that the part asks for and was not given.

    >>> [row.kind for row in details("neck")]
    ['cone', 'cone']
    """
    out = []
    for row in _rows("details.csv", part):
        cell = {name: total(row[name], sizes) if row[name] else 0.0 for name in row if name not in ("part", "kind", "groups", "what")}
        out.append(Detail(row["kind"], row["groups"].split(), cell["blend"], (cell["x"], cell["y"], cell["z"]),
                          (cell["to_x"], cell["to_y"], cell["to_z"]), (cell["a"], cell["b"], cell["c"]), cell["height"]))
    return out


@cache
def drawing(name: str) -> dict[str, Any]:
    """Return the table `name`.toml as it is written; what its numbers are is told there."""
    return tomllib.loads((_FOLDER / f"{name}.toml").read_text())


def on_line(knots: Mapping[str, list[float]], x: float) -> float:
    """Return where the line through `knots` (`at`, `is`) stands at x, level past its ends.

    >>> on_line({"at": [0.0, 1.0], "is": [2.0, 4.0]}, 0.25)
    2.5
    """
    return float(np.interp(x, knots["at"], knots["is"]))


def _rows(table: str, part: str) -> list[dict[str, str]]:
    with (_FOLDER / table).open(newline="") as lines:
        return [row for row in csv.DictReader(lines) if row["part"] == part]


def total(cell: str, sizes: Mapping[str, float]) -> float:
    """Return the sum that a cell writes, such as `0.06 + 0.8 * hip`. Raises `KeyError` for a size that was not given."""
    value = 0.0
    for term in cell.split(" + "):
        found = _TERM.fullmatch(term)
        if found is None:
            raise ValueError(f"'{term}' in a table of the body is neither a number nor a number times a size")
        if found["alone"]:
            value += sizes[found["alone"]]
        else:
            value += float(found["factor"]) * (sizes[found["size"]] if found["size"] else 1.0)
    return value
