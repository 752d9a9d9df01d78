"""Pictures to PNG, and the trial sheet as one picture."""

import io
from collections.abc import Mapping, Sequence

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from ...core.clearance.figures import Figures

PAPER, CARD, RULE, INK, SOFT = "#F3EFE4", "#FBF9F3", "#D9D2BF", "#22303A", "#5D6871"
MOSS, CORAL = "#4F6F4A", "#B93F20"
"""The tones of the interface by day: a test holds them to its stylesheet."""


def write_png(image: np.ndarray) -> bytes:
    """Return `(h, w, 3 or 4) uint8` as PNG bytes."""
    out = io.BytesIO()
    Image.fromarray(image).save(out, "PNG", optimize=False, compress_level=3)
    return out.getvalue()


def read_png(data: bytes) -> np.ndarray:
    """Return PNG bytes as `(h, w, 3) uint8`, laid on card where they are clear."""
    image = Image.open(io.BytesIO(data)).convert("RGBA")
    card = Image.new("RGBA", image.size, CARD)
    return np.asarray(Image.alpha_composite(card, image).convert("RGB"))


def write_sheet(title: str, wearers: Sequence[str], poses: Sequence[str],
                cells: Mapping[tuple[str, str], tuple[Figures, np.ndarray]]) -> bytes:
    """Return the trial sheet as PNG: rows are wearers, columns poses; `cells` holds figures and a picture (h, w, 3)."""
    h, w = next(iter(cells.values()))[1].shape[:2]
    left, top, foot, gap = 120, 92, 40, 12
    sheet = Image.new("RGB", (left + len(poses) * (w + gap) + gap, top + len(wearers) * (h + foot + gap) + gap), PAPER)
    draw = ImageDraw.Draw(sheet)
    large, text, small = (ImageFont.load_default(size) for size in (24, 16, 14))
    hold = sum(figures.holds for figures, _ in cells.values())
    draw.text((gap, 14), title, fill=INK, font=large)
    draw.text((gap, 46), f"{hold} of {len(cells)} cells hold (at most 0.1 cm2 visible)", fill=SOFT, font=small)
    for c, pose in enumerate(poses):
        draw.text((left + c * (w + gap), top - 22), pose, fill=INK, font=text)
    for r, wearer in enumerate(wearers):
        y = top + r * (h + foot + gap)
        draw.text((gap, y + h // 2), wearer, fill=INK, font=text)
        for c, pose in enumerate(poses):
            if (wearer, pose) not in cells:
                continue
            figures, image = cells[wearer, pose]
            x = left + c * (w + gap)
            draw.rectangle((x - 1, y - 1, x + w, y + h + foot - 4), fill=CARD, outline=RULE if figures.holds else CORAL)
            sheet.paste(Image.fromarray(image[:, :, :3]), (x, y))
            line = f"{figures.clearance_mm:.1f} mm" + ("" if figures.holds else f"   {figures.area_cm2:.2f} cm2")
            draw.text((x + 6, y + h + 8), line, fill=MOSS if figures.holds else CORAL, font=small)
    out = io.BytesIO()
    sheet.save(out, "PNG")
    return out.getvalue()
