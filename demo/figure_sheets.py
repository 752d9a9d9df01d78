"""Draws the figure's picture sheets for the docs: reference bodies, the ends of the shapes, the pose library.

Run by hand: python -m demo.figure_sheets
"""

from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.measures.measure_solve import solve_measures
from wily_heron.core.figure.measures.measures import take
from wily_heron.core.figure.references import REFERENCES
from wily_heron.core.look.picture import Sitter, View, picture
from wily_heron.core.look.portrait import SKIN
from wily_heron.core.motion.pose import posed_body
from wily_heron.core.motion.pose_library import POSES
from wily_heron.formats.images.png import INK, PAPER, SOFT

OUT = Path(__file__).parents[1] / "docs" / "screenshots"
_SHOWN = ("stature", "bust_girth", "waist_girth", "hip_girth", "inside_leg_height", "arm_length")


def view(points: np.ndarray, yaw: float, height: float, size: tuple[int, int]) -> np.ndarray:
    """Return one body standing on the lower edge of a picture, `height` metres high."""
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    return picture([Sitter(points, figure().triangles, SKIN)], View((middle[0], height * 0.48, middle[2]), height, yaw, 0.03), size)


def tiled(tiles: list[tuple[np.ndarray, str, str]], columns: int) -> Image.Image:
    """Return pictures with a title and a line under each, in a grid."""
    h, w = tiles[0][0].shape[:2]
    foot, gap = 40, 8
    rows = -(-len(tiles) // columns)
    sheet = Image.new("RGB", (columns * (w + gap) + gap, rows * (h + foot + gap) + gap), PAPER)
    draw, large, small = ImageDraw.Draw(sheet), ImageFont.load_default(14), ImageFont.load_default(12)
    for i, (image, title, line) in enumerate(tiles):
        x, y = gap + (i % columns) * (w + gap), gap + (i // columns) * (h + foot + gap)
        sheet.paste(Image.fromarray(image), (x, y))
        draw.text((x + 4, y + h + 4), title, fill=INK, font=large)
        draw.text((x + 4, y + h + 22), line, fill=SOFT, font=small)
    return sheet


def references() -> tuple[Image.Image, str]:
    """Return the six reference bodies from front, side and back, and their measures as a table in Markdown."""
    tiles, rows = [], ["| body | size asked | " + " | ".join(n.replace("_", " ") for n in _SHOWN) + " |", "|---" * (len(_SHOWN) + 2) + "|"]
    for reference in REFERENCES:
        wearer = shaped(figure(), solve_measures(figure(), reference.measures, around=reference.build, keep=reference.keep).shape)
        taken = take(wearer)
        standing = posed_body(wearer, POSES["stand"])
        image = np.concatenate([view(standing, yaw, 1.95, (150, 330)) for yaw in (0.0, np.pi / 2, np.pi)], axis=1)
        tiles.append((image, reference.name, reference.size))
        rows.append(f"| {reference.name} | {reference.size} | " + " | ".join(f"{100 * taken[n].value:.1f}" for n in _SHOWN) + " |")
    return tiled(tiles, 3), "\n".join(rows)


def poses() -> Image.Image:
    """Return every pose of the library."""
    wearer = shaped(figure(), {})
    shown = [p for p in POSES.values() if p.name != "rest"]
    return tiled([(view(posed_body(wearer, p), 0.6, 2.2, (118, 170)), p.label, p.family) for p in shown], 9)


def main() -> None:
    """Write the sheets and print the table of measures."""
    sheet, table = references()
    for name, image in (("reference-bodies", sheet), ("pose-library", poses())):
        image.quantize(128).save(OUT / f"{name}.png", optimize=True)
    print(table)


if __name__ == "__main__":
    main()
