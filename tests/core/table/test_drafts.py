"""Blocks drafted for any wearer with any settings: judged by shapely and by the seams they are sewn along."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure
from wily_heron.core.table.blocks import BLOCKS, block_layout
from wily_heron.core.table.layout import Layout
from wily_heron.core.table.outline import drawn_outline, seam_lengths

BUILDS = ("stature", "girth", "belly", "bust", "hip", "seat", "shoulder", "muscle", "torso_length", "leg_length", "neck_girth", "age")
SEWN = 0.012
"""Two sides of a seam may differ by so much (metres): the sewing eases it in."""


BUILD = st.dictionaries(st.sampled_from(BUILDS), st.floats(-0.8, 0.8).map(lambda v: round(v, 2)), max_size=5)


@st.composite
def asked_of(draw, name: str) -> dict[str, float]:
    return {s.name: round(draw(st.floats(s.least, s.most)), 3) for s in BLOCKS[name].settings}


def wrong_in(layout: Layout) -> list[str]:
    """What is wrong with a layout: outlines that cross themselves or hold nothing, seams whose sides do not meet."""
    panels = {p.name: p for p in layout.panels}
    out = []
    for name, panel in panels.items():
        shape = shapely.Polygon(drawn_outline(panel))
        if not shape.is_valid:
            out.append(f"{name}: {shapely.is_valid_reason(shape)}")
        elif shape.area < 0.002:
            out.append(f"{name}: {1e4 * shape.area:.0f} cm2")
    for seam in layout.seams:
        one, two = seam_lengths(panels[seam.one.panel], seam.one, panels[seam.two.panel], seam.two)
        if abs(one - two) > SEWN:
            out.append(f"{seam.one.panel} {seam.one.edge} on {seam.two.panel} {seam.two.edge}: {1000 * (one - two):.0f} mm")
    return out


@pytest.mark.parametrize("name", list(BLOCKS))
@pytest.mark.parametrize("who", list(CAST))
def test_every_block_as_it_is_suits_everyone_of_the_cast(name: str, who: str):
    more = {"sleeve": 0.55} if name == "bodice" else {}
    assert wrong_in(block_layout(name, shaped(figure(1), CAST[who]), more)) == []


@pytest.mark.parametrize("name", list(BLOCKS))
def test_a_block_with_any_settings_on_any_build_can_be_cut_and_sewn(name: str):
    @settings(max_examples=25, deadline=None)
    @given(BUILD, asked_of(name))
    def holds(build: dict[str, float], values: dict[str, float]) -> None:
        assert wrong_in(block_layout(name, shaped(figure(1), build), values)) == []

    holds()


@pytest.mark.parametrize(("name", "key"), [(n, s.name) for n, b in BLOCKS.items() for s in b.settings])
def test_more_of_a_setting_is_more_cloth(name: str, key: str):
    wearer, setting = shaped(figure(1), {}), next(s for s in BLOCKS[name].settings if s.name == key)
    values = np.linspace(max(setting.least, 0.05 if key == "sleeve" else -9), setting.most, 5)
    area = [sum(shapely.Polygon(drawn_outline(p)).area for p in block_layout(name, wearer, {key: float(v)}).panels) for v in values]
    assert (np.diff(area) * (-1 if key == "shorter" else 1) > 0).all()


@pytest.mark.parametrize(("values", "says"), [
    ({"ease": 0.61}, "61.0 cm"), ({"length": -0.2}, "-20.0 cm"), ({"collar": 0.05}, "no setting")])
def test_a_setting_out_of_bounds_or_unknown_is_told_with_what_it_may_be(values: dict[str, float], says: str):
    with pytest.raises(InputError, match=says):
        block_layout("bodice", shaped(figure(1), {}), values)
