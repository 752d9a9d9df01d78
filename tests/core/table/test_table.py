"""The cutting table: blocks, changes, seams, sewing and the open formats."""

import itertools

import igl
import numpy as np
import pytest
import shapely
import shapely.affinity

from tests.conftest import CAST
from wily_heron.core.errors import InputError
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.measures.measures import take
from wily_heron.core.figure.measures.tapes import marks
from wily_heron.core.mesh.loops import border_loops
from wily_heron.core.model.steps.fabric import FABRICS
from wily_heron.core.table.blocks import BLOCKS, block_layout
from wily_heron.core.table.change import split_edge, with_dart, with_pleat, without_corner
from wily_heron.core.table.graded import graded
from wily_heron.core.table.layout import Corner, Layout, Panel, Round, Seam, Side
from wily_heron.core.table.outline import edge_length, whole_outline
from wily_heron.core.table.panel_mesh import flat_panels
from wily_heron.core.table.sewing import Sewing
from wily_heron.formats.panels.dxf import read_dxf, write_dxf
from wily_heron.formats.panels.svg import read_svg, write_svg

LINEN = FABRICS["linen"]
SIZE = 0.025


@pytest.fixture(scope="module")
def ibbet():
    return shaped(figure(), CAST["Ibbet"])


def square(name: str = "square", side: float = 0.2) -> Panel:
    return Panel(name=name, outline=tuple(Corner(at=p) for p in ((0, 0), (side, 0), (side, side), (0, side))))


@pytest.mark.parametrize("name", list(BLOCKS))
def test_a_block_is_cut_into_good_triangles_that_cover_it(ibbet, name: str):
    layout = block_layout(name, ibbet)
    flat = flat_panels(layout, SIZE)
    for k, (panel, _) in enumerate(flat.cut):
        faces = flat.triangles[flat.of[flat.triangles[:, 0]] == k]
        a, b, c = flat.points[faces].transpose(1, 0, 2)
        area = 0.5 * np.abs((b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0])
        border = flat.points[border_loops(faces)[0]]
        assert len(border_loops(faces)) == 1
        assert area.sum() == pytest.approx(shapely.Polygon(border).area, rel=1e-9)
        assert area.sum() == pytest.approx(shapely.Polygon(whole_outline(panel, 0.002)).area, rel=0.01)
        sides = np.stack([np.linalg.norm(p - q, axis=1) for p, q in ((a, b), (b, c), (c, a))])
        quality = 4 * np.sqrt(3) * area / (sides**2).sum(axis=0)  # 1 for an equilateral triangle
        assert np.quantile(quality, 0.02) > 0.5
        assert np.median(sides) == pytest.approx(SIZE, rel=0.15)


@pytest.mark.parametrize(("name", "girth", "ease"), [("bodice", "bust_girth", 0.1), ("skirt", "hip_girth", 0.06)])
def test_a_block_goes_round_the_girth_with_its_ease(ibbet, name: str, girth: str, ease: float):
    above = 4 if name == "bodice" else 3  # the corners down to that girth
    wide = sum(2 * max(c.at[0] for c in p.outline[:above]) for p in block_layout(name, ibbet).panels)
    assert wide == pytest.approx(take(ibbet)[girth].value + ease, abs=0.002)


def test_a_sleeve_is_as_long_in_its_cap_as_the_armhole(ibbet):
    layout = block_layout("bodice", ibbet, {"sleeve": 0.5})
    front, back, sleeve = (layout.panel(n) for n in ("front", "back", "sleeve"))
    assert edge_length(sleeve, 0) + edge_length(sleeve, 4) == pytest.approx(edge_length(front, 2) + edge_length(back, 2), abs=5e-4)


@pytest.mark.parametrize(("name", "more"), [("bodice", {"sleeve": 0.55}), ("tabard", {}), ("skirt", {}), ("trousers", {}), ("cape", {}),
                                            ("hood", {})])
def test_a_block_is_sewn_closed_outside_the_body_and_keeps_its_cut(ibbet, name: str, more: dict):
    sewing = Sewing(block_layout(name, ibbet, more), ibbet, LINEN, SIZE, settle=30)
    mesh = sewing.run()
    assert sewing.gap().max(initial=0) < 0.006
    body, faces = ibbet.points.astype(float), ibbet.body.triangles.astype(np.int64)
    inside = igl.winding_number(body, faces, mesh.points.astype(float)) > 0.5
    deep = np.sqrt(igl.point_mesh_squared_distance(mesh.points.astype(float), body, faces)[0])
    assert not (inside & (deep > (0.003 if name == "hood" else 0.0015))).any()  # the rim of an ear is thinner than that twice over
    flat = sum(shapely.Polygon(whole_outline(p, 0.002)).area * (2 if p.half == "pair" else 1) for p in sewing.layout.panels)
    a, b, c = mesh.points[mesh.triangles].transpose(1, 0, 2)
    assert 0.5 * np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() == pytest.approx(flat, rel=0.04)
    assert len(border_loops(mesh.triangles)) == {"bodice": 4, "tabard": 1, "skirt": 2, "trousers": 3, "cape": 1, "hood": 1}[name] + (
        1 if name == "tabard" else 0)
    uv = mesh.corner_uv
    assert uv is not None
    assert (uv.min() >= -1e-6, uv.max() <= 1 + 1e-6) == (True, True)


def test_a_skirt_is_sewn_over_trousers(ibbet):
    trousers = Sewing(block_layout("trousers", ibbet), ibbet, LINEN, SIZE, settle=10).run()
    over = Sewing(block_layout("skirt", ibbet, {"ease": 0.2}), ibbet, LINEN, SIZE, 30,
                  [(trousers.points.astype(float), trousers.triangles)])
    mesh = over.run()
    assert over.gap().max() < 0.006
    signed = igl.signed_distance(mesh.points.astype(float), trousers.points.astype(float), trousers.triangles.astype(np.int64),
                                 sign_type=igl.SIGNED_DISTANCE_TYPE_PSEUDONORMAL)[0]
    assert (signed > -0.002).mean() > 0.99


@pytest.mark.parametrize(("friction", "drop"), [(1.5, (-0.01, 0.02)), (0.02, (0.04, 0.5))])
def test_a_sash_over_a_coat_holds_by_friction_and_slips_without(ibbet, friction: float, drop: tuple[float, float]):
    coat = Sewing(block_layout("bodice", ibbet, {"ease": 0.06}), ibbet, LINEN, SIZE, settle=10).run()
    ribs, taken = float(ibbet.points[marks(2).at["under_bust"]][1]), take(ibbet)
    quarter = 0.98 * taken["under_bust_girth"].value / 4  # a little tighter than what it lies on
    strip = tuple(Corner(at=p) for p in ((0, ribs - 0.04), (quarter, ribs - 0.04), (quarter, ribs + 0.04), (0, ribs + 0.04)))
    panels = tuple(Panel(name=n, outline=strip, half="fold", laid=Round(face=n)) for n in ("front", "back"))
    sash = Layout(panels=panels, seams=(Seam(one=Side(panel="front", edge=1), two=Side(panel="back", edge=1)),))
    sewing = Sewing(sash, ibbet, FABRICS["wool felt"].model_copy(update={"friction": friction}), 0.02, 60,
                    [(coat.points.astype(float), coat.triangles)])
    low, high = drop
    assert low < ribs - sewing.run().points[:, 1].mean() < high


def test_sewing_is_the_same_twice(ibbet):
    layout = block_layout("hood", ibbet)
    first, second = (Sewing(layout, ibbet, LINEN, SIZE, settle=6).run().points for _ in range(2))
    assert np.array_equal(first, second)


def test_an_edge_split_is_split_along_its_seam_and_measures_the_same(ibbet):
    layout = block_layout("bodice", ibbet, {"sleeve": 0.5})
    made = split_edge(layout, "front", 2, 0.3)
    front, sleeve = made.panel("front"), made.panel("sleeve")
    assert edge_length(front, 2) == pytest.approx(0.3 * edge_length(layout.panel("front"), 2), rel=0.01)
    assert edge_length(front, 2) + edge_length(front, 3) == pytest.approx(edge_length(layout.panel("front"), 2), rel=2e-3)
    assert (len(front.outline), len(sleeve.outline), len(made.panel("back").outline)) == (8, 6, 7)
    assert len(made.seams) == len(layout.seams) + 1
    before, after = flat_panels(layout, SIZE), flat_panels(made, SIZE)
    assert abs(len(before.pairs) - len(after.pairs)) <= 4
    gaps = lambda f: np.linalg.norm(f.points[f.pairs[:, 0]] - f.points[f.pairs[:, 1]], axis=1).sum()  # noqa: E731
    assert gaps(after) == pytest.approx(gaps(before), rel=0.06)  # the same places are sewn to the same


def test_a_turned_seam_is_split_from_its_other_end():
    layout = Layout(panels=(square("a"), square("b")), seams=(Seam(one=Side(panel="a", edge=0), two=Side(panel="b", edge=2), turned=True),))
    made = split_edge(layout, "a", 0, 0.25)
    assert edge_length(made.panel("b"), 2) == pytest.approx(0.15)
    firsts = {(s.one.edge, s.two.edge) for s in made.seams}
    assert firsts == {(0, 3), (1, 2)}


def test_a_dart_takes_its_mouth_out_and_sews_its_legs(ibbet):
    layout = block_layout("skirt", ibbet)
    made = with_dart(layout, "back", 0, 0.5, 0.03, 0.1)
    back, was = made.panel("back"), layout.panel("back")
    legs = edge_length(back, 1), edge_length(back, 2)
    assert legs[0] == pytest.approx(legs[1], rel=1e-3)
    assert legs[0] == pytest.approx(np.hypot(0.1, 0.015), rel=0.01)
    assert edge_length(back, 0) + edge_length(back, 3) == pytest.approx(edge_length(was, 0) - 0.03, abs=1e-4)
    area = lambda p: shapely.Polygon(whole_outline(p)).area  # noqa: E731
    assert area(was) - area(back) == pytest.approx(2 * 0.5 * 0.03 * 0.1, rel=0.02)  # both halves of the fold
    assert len(made.fast) == len(layout.fast) + 1
    assert len(flat_panels(made, SIZE).pairs) > len(flat_panels(layout, SIZE).pairs)


def test_a_pleat_leaves_the_seam_as_long_and_the_hem_wider(ibbet):
    layout = block_layout("skirt", ibbet)
    made = with_pleat(layout, "front", 0, 0.5, 0.03)
    front, was = made.panel("front"), layout.panel("front")
    hem = lambda p: max(c.at[0] for c in p.outline)  # noqa: E731
    assert hem(front) - hem(was) == pytest.approx(0.06, abs=1e-4)
    assert edge_length(front, 0) + edge_length(front, 3) == pytest.approx(edge_length(was, 0), abs=1e-3)
    assert edge_length(front, 1) == pytest.approx(0.03, abs=1e-4)
    flat_panels(made, SIZE)


def test_a_corner_taken_out_undoes_the_seams_beside_it(ibbet):
    layout = block_layout("bodice", ibbet)
    made = without_corner(layout, "front", 4)
    assert len(made.panel("front").outline) == 6
    assert {(s.one.edge, s.two.edge) for s in made.seams} == {(1, 1)}
    with pytest.raises(InputError, match="three corners"):
        without_corner(Layout(panels=(square().model_copy(update={"outline": square().outline[:3]}),)), "square", 0)


def test_a_graded_block_is_the_block_of_the_other_wearer_and_hand_work_goes_along(ibbet):
    heavy = shaped(figure(), CAST["Ibbet"] | {"heavy": 1.0}) if "heavy" in figure().shapes else shaped(figure(), {figure().shapes[0]: 0.6})
    layout = block_layout("skirt", ibbet)
    plain = graded(layout, ibbet, heavy)
    want = block_layout("skirt", heavy)
    for mine, due in zip(plain.panels, want.panels, strict=True):
        assert np.allclose([c.at for c in mine.outline], [c.at for c in due.outline], atol=1e-4)
    split = graded(split_edge(layout, "front", 3, 0.5), ibbet, heavy).panel("front")
    ends = np.array([want.panel("front").outline[k].at for k in (3, 4)])
    assert split.outline[4].at == pytest.approx(ends.mean(axis=0), abs=0.01)


@pytest.mark.parametrize("name", list(BLOCKS))
@pytest.mark.parametrize(("write", "read"), [(write_svg, read_svg), (write_dxf, read_dxf)])
def test_panels_come_back_from_open_formats_at_their_size(ibbet, name: str, write, read):
    layout = block_layout(name, ibbet)
    back = read(write(layout), "panels")
    assert len(back.panels) == len(layout.panels)
    for mine in layout.panels:
        got = back.panel(mine.name)
        a, b = shapely.Polygon(whole_outline(mine, 0.002)), shapely.Polygon(whole_outline(got, 0.002))
        b = shapely.affinity.translate(b, a.centroid.x - b.centroid.x, a.centroid.y - b.centroid.y)
        assert a.symmetric_difference(b).area < 0.002 * a.area


@pytest.mark.parametrize(("write", "read"), [(write_svg, read_svg), (write_dxf, read_dxf)])
def test_inner_lines_come_back_mirrored_on_a_fold_and_the_mesh_runs_along_them(write, read):
    pocket = ((0.05, 0.06), (0.15, 0.06), (0.15, 0.16))
    cut = square().model_copy(update={"half": "fold", "lines": (pocket,)})
    layout = Layout(panels=(cut,))
    back = read(write(layout), "panels").panels[0]
    want = shapely.MultiLineString([pocket, [(-x, y) for x, y in pocket]])
    got = shapely.MultiLineString(back.lines)
    moved = shapely.affinity.translate(got, want.centroid.x - got.centroid.x, want.centroid.y - got.centroid.y)
    assert want.hausdorff_distance(moved) < 2e-4
    assert got.length == pytest.approx(want.length, rel=1e-3)
    flat = flat_panels(layout, 0.02)
    sides = {tuple(sorted(s)) for t in flat.triangles for s in itertools.combinations(t.tolist(), 2)}
    along = [shapely.LineString(flat.points[list(s)]) for s in sides]
    on = shapely.union_all([e for e in along if want.buffer(1e-6).covers(e)])
    assert on.length == pytest.approx(want.length, rel=1e-3)


@pytest.mark.parametrize("high", np.linspace(0.0, 0.2, 9))
def test_a_line_from_edge_to_edge_wherever_it_lies_can_be_cut(high: float):
    cut = square().model_copy(update={"lines": (((0.0, high), (0.2, high)), ((-0.05, high), (0.25, 0.11)))})
    flat = flat_panels(Layout(panels=(cut,)), 0.02)
    assert shapely.MultiPolygon([shapely.Polygon(flat.points[t]) for t in flat.triangles]).area == pytest.approx(0.04, rel=1e-6)


@pytest.mark.parametrize(("read", "data"), [(read_svg, b"no drawing"), (read_svg, b"<svg xmlns='http://www.w3.org/2000/svg'/>"),
                                            (read_dxf, b"no drawing"), (read_dxf, b"")])
def test_what_is_no_drawing_is_told(read, data: bytes):
    with pytest.raises(InputError, match="rough"):
        read(data, "rough")


def test_a_drawing_in_inches_is_read_at_its_size():
    svg = b'<svg xmlns="http://www.w3.org/2000/svg" width="10in" height="10in" viewBox="0 0 10 10"><rect width="4" height="2"/></svg>'
    assert shapely.Polygon(whole_outline(read_svg(svg, "inch").panels[0])).area == pytest.approx(8 * 0.0254**2, rel=1e-4)


def test_wrong_outlines_and_seams_are_told():
    bow = Panel(name="bow", outline=tuple(Corner(at=p) for p in ((0, 0), (0.2, 0.2), (0.2, 0), (0, 0.2))))
    with pytest.raises(InputError, match="'bow' crosses itself"):
        flat_panels(Layout(panels=(bow,)), SIZE)
    with pytest.raises(ValueError, match="no edge 9"):
        Layout(panels=(square(),), seams=(Seam(one=Side(panel="square", edge=8), two=Side(panel="square", edge=0)),))
    with pytest.raises(InputError, match="no panel"):
        flat_panels(Layout(), SIZE)
