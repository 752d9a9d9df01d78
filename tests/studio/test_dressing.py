"""Putting on in one go, without HTTP and without a queue."""

from dataclasses import replace

import numpy as np
import pytest

from tests.studio.conftest import Jobs
from tests.studio.test_rail import brought_in, stands
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.errors import InputError, NotFound
from wily_heron.core.figure.base.body import shape_values, shaped
from wily_heron.core.figure.base.pose_types import REST
from wily_heron.core.figure.figure import figure
from wily_heron.core.model.model import Model
from wily_heron.studio.desk import Desk


def as_bottom(desk: Desk, jobs: Jobs, model: Model, name: str) -> int:
    from wily_heron.studio.rail import rail

    piece = brought_in(desk, model, name).id
    jobs.do_all()
    rail.rename(piece, None, "bottom")
    return piece


def test_a_piece_is_put_on_in_one_go_over_what_is_worn_and_one_undo_takes_it_off_again(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.store.rail.pieces import piece_at
    from wily_heron.studio import work
    from wily_heron.studio.rail import dressing, rail

    away = replace(sleeve, mesh=sleeve.mesh.moved(sleeve.mesh.points + np.array([0.0, 0.4, 0.5], np.float32)))
    made = [as_bottom(desk, jobs, model, name) for model, name in ((sleeve, "under.obj"), (away, "over.obj"))]
    dressing.ask_for(desk, made[0])
    desk.ask(work.dress(made, desk.production, desk.artist))  # as a bundle: what is worn already stays as it is
    jobs.do_all()
    under, over = (stands(piece) for piece in made)
    assert [s.kind for s in over.recipe.steps] == ["receive", "place", "fit", "bind", "follow", "clear"]
    assert [getattr(s, "over", None) for s in over.recipe.steps[2:]] == 4 * [(under.geometry,)]
    assert (over.label, over.author, over.status) == ("Dress", "Wrenna", "done")
    body = figure(2)
    worn = Dressed(shaped(body, shape_values(body, over.recipe.made_on)),
                   {row.name: piece_at(row.geometry) for row in (under, over) if row.geometry})
    assert worn.measure(REST).figures.area_cm2 < 0.05
    assert rail.step(desk, over.id, "undo").label == "Lay it where it is worn"


def test_a_press_from_a_page_of_another_production_puts_a_piece_on_over_what_is_worn_in_its_own(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.studio.productions import all_productions
    from wily_heron.studio.rail import dressing

    under, over = (as_bottom(desk, jobs, sleeve, name) for name in ("under.obj", "over.obj"))
    dressing.ask_for(desk, under)
    jobs.do_all()
    elsewhere = Desk(all_productions.begin("The Salt Road", desk.artist), desk.artist, desk.ask)
    dressing.ask_for(elsewhere, over)
    jobs.do_all()
    assert [s.over for s in stands(over).recipe.steps if s.kind == "fit"] == [(stands(under).geometry,)]


def test_while_a_piece_is_put_on_the_bench_hears_what_each_step_has_found(desk: Desk, jobs: Jobs, sleeve: Model,
                                                                          monkeypatch: pytest.MonkeyPatch):
    from wily_heron.store.db import transaction
    from wily_heron.store.rail import pieces as store
    from wily_heron.studio.rail import dressing, evaluating

    piece = as_bottom(desk, jobs, sleeve, "band.obj")
    note, seen = store.note_reports, []

    def noted(connection, *of):
        note(connection, *of)
        row = store.get_piece(connection, piece)
        seen.append((row.status, [name for name, found in row.report.model_dump().items() if found]))

    monkeypatch.setattr(store, "note_reports", noted)
    monkeypatch.setattr(evaluating, "_WATCHED", 0.0)
    dressing.ask_for(desk, piece)
    jobs.do_all()
    assert {status for status, _ in seen} == {"waiting"}
    found = [names for _, names in seen]
    steps = ["receive", "fit", "bind", "follow", "clear"]
    assert [[name for name in steps if name in names] for names in found] == [steps[: k + 1] for k in range(5)]
    with transaction() as connection:  # nothing is told of an edit that is done
        edit = store.get_edit(connection, stands(piece).edit)
        assert edit
        assert edit.geometry
        before = stands(piece).report
        note(connection, edit, store.piece_at(edit.geometry).reporting(before.fit) if before.fit else store.piece_at(edit.geometry))
    assert stands(piece).report == before


def test_what_the_artist_does_meanwhile_stands(desk: Desk, jobs: Jobs, sleeve: Model, monkeypatch: pytest.MonkeyPatch):
    from wily_heron.studio.rail import dressing, rail

    piece = as_bottom(desk, jobs, sleeve, "band.obj")
    worn = dressing._worn

    def changed_first(*of):
        row = stands(piece)
        rail.change_recipe(desk, piece, row.recipe.model_copy(update={"steps": row.recipe.steps[:1]}), "By hand", row.edit)
        return worn(*of)

    monkeypatch.setattr(dressing, "_worn", changed_first)
    dressing.dress_piece(desk, piece)
    assert stands(piece).label == "By hand"
    rail.take_off(desk, piece)
    dressing.dress_piece(desk, piece)  # it has been taken off: nothing is left to do
    with pytest.raises(NotFound):
        dressing.ask_for(desk, piece)


def test_a_rigid_piece_is_not_laid_anywhere(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.studio.rail import dressing, rail

    piece = as_bottom(desk, jobs, sleeve, "case.obj")
    rail.rename(piece, None, "rigid")
    with pytest.raises(InputError, match="rigid"):
        dressing.ask_for(desk, piece)
    assert jobs.asked == []
    dressing.dress_piece(desk, piece)
    assert [s.kind for s in stands(piece).recipe.steps] == ["receive"]


def test_files_that_come_together_are_hung_by_their_categories_and_put_on_from_the_skin_outwards(desk: Desk, jobs: Jobs, sleeve: Model,
                                                                                               monkeypatch: pytest.MonkeyPatch):
    from wily_heron.core.bench.recipe import place_in_order
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.rail import dressing, rail

    worn = brought_in(desk, sleeve, "belt.obj").id
    jobs.do_all()
    looks = {"Coat": "top", "Base layer": "suit", "Trousers": "bottom"}
    standing = dressing._standing
    monkeypatch.setattr(dressing, "_standing", lambda piece: _as(rail, standing, piece, looks))
    files = [(f"{name}.obj", sleeve) for name in looks]
    made = rail.bring_in_several(desk, files, None, at_once=True)
    assert all(p.status == "waiting" for p in made)
    jobs.do_all()
    hangs = [p for p in overview(desk.production).pieces if p.id != worn]
    assert [p.name for p in hangs] == ["Coat", "Trousers", "Base layer"]  # the outermost first
    assert min(p.rail for p in hangs) > stands(worn).rail  # over what hung there before
    inner = [p.geometry for p in reversed(hangs)]
    over = [next(s.over for s in p.recipe.steps if place_in_order(s.kind) == place_in_order("fit")) for p in reversed(hangs)]
    assert [list(o)[-2:] for o in over] == [[stands(worn).geometry], [stands(worn).geometry, inner[0]], inner[:2]]
    assert not any(p.dressing for p in hangs)


def _as(rail, standing, piece: int, looks: dict[str, str]):
    """A piece once it stands, with the category that its file's name says."""
    row = standing(piece)
    if row and row.name in looks:
        rail.rename(piece, None, looks[row.name])
    return standing(piece)
