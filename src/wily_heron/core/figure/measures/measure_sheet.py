"""A sheet of body measures as CSV: measure, value and, if it is not centimetres, unit."""

import csv
import io

from ...errors import InputError
from .measures import MEASURES

_UNITS = {"m": 1.0, "cm": 0.01, "mm": 0.001, "in": 0.0254}
_NAMES = {key: m.name for m in MEASURES for key in (m.name, m.label.lower(), m.label.lower().replace("-", " "))}


def parse_length(text: str, where: str, unit: str = "cm") -> float:
    """Return `104`, `104cm`, `1.04 m`, `41 in` or `92,5` as metres; raises `InputError` for anything else.

    >>> [round(parse_length(text, "line 1"), 4) for text in ("104", "1.04 m", "41 in", "92,5")]
    [1.04, 1.04, 1.0414, 0.925]
    """
    plain = text.strip().lower().replace(",", ".")
    for ending in ("mm", "cm", "in", "m"):
        if plain.endswith(ending):
            plain, unit = plain[: -len(ending)].strip(), ending
            break
    try:
        value = float(plain) * _UNITS[unit]
    except (ValueError, KeyError):
        value = -1.0
    if not 0.01 < value < 4.0:
        raise InputError(what=f"'{text.strip()}' is not a length of a body", where=where, todo="Write it like 104 cm, 1040 mm or 41 in.")
    return value


def read_measure_sheet(text: str, name: str) -> dict[str, float]:
    r"""Return measures in metres by name; raises `InputError` naming the line that cannot be read.

    >>> read_measure_sheet("stature, 172\n", "ibbet.csv")
    {'stature': 1.72}
    """
    out: dict[str, float] = {}
    for number, row in enumerate(csv.reader(io.StringIO(text)), 1):
        cells = [c.strip() for c in row]
        if not any(cells) or (number == 1 and cells[0].lower() in ("measure", "name")):
            continue
        where = f"{name}, line {number}"
        if cells[0].lower() not in _NAMES or len(cells) < 2:
            raise InputError(what=f"there is no measure called '{cells[0]}'" if len(cells) > 1 else "the line has no value",
                             where=where, todo=f"The measures are {', '.join(m.label for m in MEASURES)}.")
        unit = cells[2].lower() if len(cells) > 2 and cells[2] else "cm"
        out[_NAMES[cells[0].lower()]] = parse_length(cells[1], where, unit)
    if not out:
        raise InputError(what="the sheet is empty", where=name, todo="Give lines like: waist girth, 74, cm.")
    return out
