"""One palette: what pictures are drawn with is what the interface is drawn with."""

import re
from pathlib import Path

import numpy as np
import pytest

from wily_heron.core.look import picture, portrait
from wily_heron.formats.images import png

SHEET = (Path(__file__).parents[2] / "web" / "src" / "theme" / "tokens.css").read_text()
TONES = dict(re.findall(r"--([\w-]+): (#[0-9a-f]{6});", SHEET[SHEET.index("@theme") : SHEET.index("}", SHEET.index("@theme"))]))


@pytest.mark.parametrize("name", ["paper", "card", "rule", "ink", "soft", "moss", "coral"])
def test_the_pictures_of_a_sheet_have_the_tones_of_the_interface(name: str):
    assert getattr(png, name.upper()).lower() == TONES[f"color-{name}"]


@pytest.mark.parametrize(("drawn", "tone"), [(picture.PAPER, "color-paper"), (portrait.CORAL, "map-through")])
def test_figures_are_drawn_in_the_tones_of_the_stage(drawn, tone: str):
    told = [int(TONES[tone][k : k + 2], 16) / 255 for k in (1, 3, 5)]
    assert np.abs(np.array(drawn) - told).max() < 0.002
