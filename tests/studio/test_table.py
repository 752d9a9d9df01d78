"""The cutting table and taking apart, without HTTP and without a queue."""

import numpy as np
import pytest

from tests.studio.conftest import Jobs
from wily_heron.core.errors import Conflict, InputError, NotFound
from wily_heron.core.model.model import Model
from wily_heron.core.table.layout import Layout
from wily_heron.core.table.outline import edge_length
from wily_heron.studio.desk import Desk


def tabard(desk: Desk):
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.table import layouts

    return layouts.begin(desk, "Mail tabard", overview().cast[0].id, "tabard", {"length": 0.5})


def test_a_layout_is_drafted_changed_undone_and_a_change_from_an_old_view_is_refused(desk: Desk):
    from wily_heron.studio.table import layouts

    first = tabard(desk)
    work = layouts.PanelWork("split", first.layout.panels[0].name, 0, 0.5, 0.03, 0.1)
    split = layouts.work_on(desk, first.id, work, first.edit)
    corners = [len(row.layout.panels[0].outline) for row in (first, split)]
    assert corners[1] == corners[0] + 1
    whole = edge_length(first.layout.panels[0], 0)
    assert sum(edge_length(split.layout.panels[0], e) for e in (0, 1)) == pytest.approx(whole, abs=1e-5)
    with pytest.raises(Conflict):
        layouts.change(desk, first.id, first.layout, "Back", first.edit)
    assert layouts.step(first.id, "undo").layout == first.layout
    assert layouts.step(first.id, "redo").layout == split.layout
    with pytest.raises(InputError, match="nothing to redo"):
        layouts.step(first.id, "redo")
    joined = layouts.work_on(desk, first.id, layouts.PanelWork("join", work.panel, 0, 0.5, 0.03, 0.1), split.edit)
    assert len(joined.layout.panels[0].outline) == corners[0]
    layouts.drop(first.id)
    with pytest.raises(NotFound):
        layouts.get(first.id)


def test_panels_graded_to_another_wearer_are_as_wide_as_those_drafted_for_that_wearer(desk: Desk):
    from wily_heron.core.table.blocks import block_layout
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.table import layouts
    from wily_heron.studio.wearer import wearer_as

    first, stout = tabard(desk), overview().cast[1]
    graded = layouts.grade(desk, first.id, stout.id)
    assert (graded.wearer, graded.shape) == (stout.id, stout.shape)

    def width(layout: Layout) -> float:
        return max(float(np.ptp([corner.at[0] for corner in panel.outline])) for panel in layout.panels)

    drafted = block_layout("tabard", wearer_as(None, stout.shape), {"length": 0.5})
    assert width(graded.layout) == pytest.approx(width(drafted), abs=0.006)
    assert width(graded.layout) > width(first.layout)
    assert layouts.step(first.id, "undo").wearer == first.wearer


def test_only_a_wearer_of_the_houses_figure_is_sewn_for(desk: Desk):
    from wily_heron.studio.table import layouts

    with pytest.raises(NotFound):
        layouts.begin(desk, "Lost", 10**6, "tabard", {})
    empty = layouts.begin(desk, "Empty", tabard(desk).wearer or 0, "", {})
    assert empty.layout == Layout()
    assert [line.name for line in layouts.layouts(desk.production)] == ["Mail tabard", "Empty"]


def two_in_one(sleeve: Model) -> Model:
    """Two bands of one file, one above the other and of another material."""
    from dataclasses import replace

    from wily_heron.core.mesh.mesh import Material, Mesh

    m, count = sleeve.mesh, len(sleeve.mesh.points)
    points = np.concatenate([m.points, m.points + np.array([0.0, 0.4, 0.0], np.float32)])
    triangles = np.concatenate([m.triangles, m.triangles + count]).astype(np.int32)
    material = np.repeat([0, 1], len(m.triangles)).astype(np.int32)
    mesh = Mesh(points, triangles, None, material, materials=(Material("felt", (0.1, 0.2, 0.3)), Material("hide", (0.4, 0.2, 0.1))))
    return replace(sleeve, mesh=mesh)


def test_a_dressed_body_is_divided_by_hand_and_every_division_can_be_undone(desk: Desk, sleeve: Model):
    from wily_heron.studio.apart import divisions
    from wily_heron.studio.apart.divisions import Choice

    both = two_in_one(sleeve)
    made = divisions.bring_in(desk, both, "two-bands.glb")
    faces = len(both.mesh.triangles)
    assert len(made.label) == faces
    upper = divisions.choose(made.row.id, Choice("material", faces - 1, None, (), (), (0.0, 0.0, 0.0), False, ()))
    assert len(upper) == faces // 2
    cut = divisions.assign(made.row.id, upper.tolist(), None, "Collar")
    collar = next(k for k, p in enumerate(cut.row.parts) if p.name == "Collar")
    assert (cut.label == collar).sum() == len(upper)
    named = divisions.change_part(made.row.id, collar, {"name": "Ruff", "category": "top"})
    assert (named.row.parts[collar].name, named.row.parts[collar].category) == ("Ruff", "top")
    into = next(k for k in range(len(named.row.parts)) if k != collar)
    merged = divisions.merge(made.row.id, collar, into)
    assert len(merged.row.parts) == len(named.row.parts) - 1
    assert divisions.step(made.row.id, "undo").row.parts == named.row.parts
    assert divisions.step(made.row.id, "redo").row.parts == merged.row.parts
    with pytest.raises(InputError, match="nothing to redo"):
        divisions.step(made.row.id, "redo")
    with pytest.raises(InputError, match="no face"):
        divisions.assign(made.row.id, [faces], None, "Too far")
    with pytest.raises(NotFound):
        divisions.merge(made.row.id, 99, 0)
    with pytest.raises(InputError, match="not closed"):
        divisions.choose(made.row.id, Choice("lasso", None, None, ((0.0, 0.0),), (), (0.0, 0.0, 0.0), False, ()))
    divisions.drop(made.row.id)
    with pytest.raises(NotFound):
        divisions.get(made.row.id)


def test_taking_apart_puts_every_piece_in_stock_and_on_the_rail_once(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.store.stock.items import Query
    from wily_heron.studio.apart import divisions, taking
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.stock import keeping

    made = divisions.bring_in(desk, two_in_one(sleeve), "two-bands.glb")
    for k, part in enumerate(made.row.parts):
        if part.is_body:
            divisions.change_part(made.row.id, k, {"is_body": False})
    upper = np.flatnonzero(divisions.get(made.row.id).label == divisions.get(made.row.id).label[-1])
    divisions.assign(made.row.id, upper.tolist(), None, "Collar")
    names = sorted(p.name for p in divisions.get(made.row.id).row.parts)
    begun = taking.begin(desk, made.row.id)
    assert begun.row.state == "taking"
    assert [w.values for w in taking.waiting_work()] == [{"apart": made.row.id, "author": "Artist"}]
    with pytest.raises(InputError, match="already"):
        taking.begin(desk, made.row.id)
    jobs.do_all()
    done = divisions.get(made.row.id)
    assert (done.row.state, done.row.outcome) == ("taken", f"{len(names)} pieces")
    assert sorted(p.name for p in overview().pieces) == names
    assert sorted(item.name for item in keeping.search(Query(), None).items) == names
    assert all(p.stands() for p in overview().pieces)
    taking.take(made.row.id, "tests", jobs)  # safe to run twice
    assert len(overview().pieces) == len(names)
