"""The cross-sections of the trunk and the limbs, read from their table.

Each row of `lofts.csv` is a section of a part: where it stands along it, its centre, how far it reaches to each of the four sides, and the
exponent of its superellipse. All in metres. A cell is a sum of numbers and of numbers times the sizes that the body's shape gives.
"""

import csv
import re
from pathlib import Path

_TERM = re.compile(r"(?P<factor>-?[\d.]+)(?: \* (?P<size>\w+))?|(?P<alone>\w+)")
_TABLE = Path(__file__).with_name("lofts.csv")


def sections(part: str, **sizes: float) -> list[tuple[float, ...]]:
    """Return the sections of a part, 8 numbers each: along, centre side, centre front, inward, outward, front, back, exponent.

    Raises `KeyError` for a size that the part asks for and was not given.

    >>> sections("hand", flesh=0.0)[0]
    (0.0, 0.0, 0.0, 0.027, 0.027, 0.0175, 0.0175, 2.2)
    """
    with _TABLE.open(newline="") as table:
        rows = [row for row in csv.DictReader(table) if row["part"] == part]
    return [tuple(_sum(cell, sizes) for name, cell in row.items() if name != "part") for row in rows]


def _sum(cell: str, sizes: dict[str, float]) -> float:
    total = 0.0
    for term in cell.split(" + "):
        found = _TERM.fullmatch(term)
        if found is None:
            raise ValueError(f"'{term}' in {_TABLE.name} is neither a number nor a number times a size")
        if found["alone"]:
            total += sizes[found["alone"]]
        else:
            total += float(found["factor"]) * (sizes[found["size"]] if found["size"] else 1.0)
    return total
