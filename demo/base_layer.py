"""The base layer every wearer of the night mail starts from: a plain linen suit to the middle of the thigh, cut by code."""

from pathlib import Path

from .forms import grown
from .quads import Quads, write_obj

FILE = Path(__file__).parent / "files" / "base-layer.obj"
_HEM = 0.665


def base_layer() -> Quads:
    """Return the suit standing in metres: the figure's own faces, laid off the skin and smoothed over its hollows."""
    covered = {"chest", "belly", "lap", "seat", "lower_back", "upper_back", "thigh"}
    return grown(covered, ease=0.002, rounds=8, keep=lambda middle: middle[:, 1] > _HEM, level=2)


def write(path: Path = FILE) -> None:
    """Write the suit as OBJ + MTL in millimetres, standing."""
    write_obj(path, base_layer(), "base layer of the night mail", {"linen": "Kd 0.780 0.760 0.700\nPr 0.85\nPm 0.0"}, scale=1000.0)


if __name__ == "__main__":
    write()
