"""What an artist does on the rail, without HTTP and without a queue."""

import pytest

from tests.studio.conftest import Jobs
from wily_heron.core.bench.recipe import Recipe
from wily_heron.core.errors import Conflict, InputError, NotFound
from wily_heron.core.model.model import Model
from wily_heron.core.model.steps.bind import Bind
from wily_heron.core.model.steps.fit import Fit
from wily_heron.core.model.steps.follow import Follow
from wily_heron.core.model.steps.receive import Receive
from wily_heron.studio.desk import Desk

STEPS = (Receive(unit="m", up="y"), Fit(ease=0.006), Bind(), Follow())


def stands(piece: int):
    from wily_heron.store.db import transaction
    from wily_heron.store.rail.pieces import get_piece

    with transaction() as c:
        return get_piece(c, piece)


def brought_in(desk: Desk, sleeve: Model, name: str = "waist-band.obj"):
    from wily_heron.studio.rail import rail

    return rail.bring_in(desk, sleeve, name)


def test_a_piece_brought_in_waits_for_its_job_and_stands_once_it_is_done(desk: Desk, jobs: Jobs, sleeve: Model):
    piece = brought_in(desk, sleeve)
    assert (piece.name, piece.status, piece.author) == ("Waist band", "waiting", "Wrenna")
    assert [(w.task, w.priority, w.values) for w in jobs.asked] == [("evaluate_edit", 10, {"edit": piece.edit})]
    jobs.do_all()
    done = stands(piece.id)
    assert done.stands()
    assert done.worn == done.geometry
    assert done.finished is None
    assert done.report.receive.vertices == len(sleeve.mesh.points)


def test_undo_and_redo_ask_for_nothing_that_was_computed_before(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.studio.rail import rail

    piece = brought_in(desk, sleeve)
    jobs.do_all()
    rail.change_recipe(desk, piece.id, Recipe(made_on=piece.recipe.made_on, steps=STEPS[:2]), "Fit", piece.edit)
    jobs.do_all()
    fitted = stands(piece.id)
    assert fitted.before is not None
    assert fitted.geometry not in (None, fitted.before)
    back = rail.step(desk, piece.id, "undo")
    assert (back.geometry, back.redo_label) == (fitted.before, "Fit")
    assert rail.step(desk, piece.id, "redo").geometry == fitted.geometry
    assert jobs.asked == []
    with pytest.raises(InputError, match="nothing to redo"):
        rail.step(desk, piece.id, "redo")


def test_a_change_from_an_old_view_is_a_conflict_and_asks_for_no_job(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.studio.rail import rail

    piece = brought_in(desk, sleeve)
    jobs.do_all()
    rail.change_recipe(desk, piece.id, Recipe(steps=STEPS[:2]), "Fit", piece.edit)
    jobs.asked.clear()
    with pytest.raises(Conflict):
        rail.change_recipe(desk, piece.id, Recipe(steps=STEPS[:1]), "Back", piece.edit)
    assert jobs.asked == []
    assert [s.kind for s in stands(piece.id).recipe.steps] == ["receive", "fit"]


def test_a_step_that_cannot_be_done_is_told_on_the_piece_and_the_steps_before_stay(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.studio.rail import rail

    piece = brought_in(desk, sleeve)
    jobs.do_all()
    lost = Bind(source="joint", joint="l_wing")
    rail.change_recipe(desk, piece.id, Recipe(steps=(STEPS[0], lost)), "Bind", piece.edit)
    jobs.do_all()
    failed = stands(piece.id)
    assert failed.status == "failed"
    assert failed.error is not None
    assert "l_wing" in failed.error.what
    assert failed.error.todo
    assert rail.step(desk, piece.id, "undo").stands()


def test_pieces_change_places_and_the_ends_of_the_rail_say_so(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.store.db import transaction
    from wily_heron.store.rail.pieces import rail_of
    from wily_heron.studio.rail import rail

    inner, outer = brought_in(desk, sleeve, "inner.obj"), brought_in(desk, sleeve, "outer.obj")

    def order() -> list[str]:
        with transaction() as c:
            return [piece.name for piece in rail_of(c, desk.production)]

    assert order() == ["Inner", "Outer"]
    rail.move(inner.id, outwards=True)
    assert order() == ["Outer", "Inner"]
    with pytest.raises(InputError, match="outermost"):
        rail.move(inner.id, outwards=True)
    assert rail.rename(outer.id, "Outer band", None).name == "Outer band"
    assert rail.rename(outer.id, None, "bottom").category == "bottom"
    rail.take_off(desk, outer.id)
    assert order() == ["Inner"]
    with pytest.raises(NotFound):
        rail.take_off(desk, outer.id)


def test_an_outfit_is_fitted_from_the_skin_outwards_each_piece_over_those_under_it(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.studio import work
    from wily_heron.studio.rail import rail

    pieces = [brought_in(desk, sleeve, f"{name}.obj") for name in ("inner", "outer")]
    jobs.do_all()
    for piece in pieces:
        rail.change_recipe(desk, piece.id, Recipe(made_on=piece.recipe.made_on, steps=STEPS), "All", piece.edit)
    jobs.do_all()
    desk.ask(work.fit_outfit(desk.production, pieces[0].outfit, "", 0.004, "Wrenna"))
    jobs.do_all()
    inner, outer = (stands(piece.id) for piece in pieces)
    fits = [next(s for s in piece.recipe.steps if isinstance(s, Fit)) for piece in (inner, outer)]
    assert [f.ease for f in fits] == [0.004, 0.004]
    assert fits[0].over == ()
    assert fits[1].over == (inner.geometry,)
    assert all(s.over == (inner.geometry,) for s in outer.recipe.steps if isinstance(s, Bind | Follow))


def test_what_a_crash_left_waiting_is_told_once_for_each_standing_edit(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.studio.rail import evaluating

    assert evaluating.waiting_work() == []
    piece = brought_in(desk, sleeve)
    assert [w.values for w in evaluating.waiting_work()] == [{"edit": piece.edit}]
    jobs.do_all()
    assert evaluating.waiting_work() == []


def test_a_piece_that_is_gone_before_its_job_comes_harms_nobody(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.studio.rail import rail

    rail.take_off(desk, brought_in(desk, sleeve).id)
    assert jobs.do_all() == 1


def test_a_grown_piece_and_a_piece_brought_over_are_each_asked_for(desk: Desk, jobs: Jobs):
    from wily_heron.core.work.grow import READY, Growth
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.rail import growing

    ready = growing.what_can_be_grown()
    assert set(READY) < set(ready)
    wearer = overview().cast[0]
    grown = growing.grow_piece(desk, wearer.id, "Gloves", Growth(READY["gloves"], 0.002, 0.0, 0.0, 0.3))
    assert jobs.names() == ["evaluate_edit"]
    jobs.do_all()
    assert stands(grown.id).stands()
    assert stands(grown.id).recipe.made_on == wearer.shape
    with pytest.raises(NotFound):
        growing.grow_piece(desk, 10**6, "Gloves", Growth(READY["gloves"], 0.002, 0.0, 0.0, 0.3))


def test_steps_that_failed_are_run_once_more_when_asked_and_only_those(desk: Desk, jobs: Jobs, sleeve: Model,
                                                                     monkeypatch: pytest.MonkeyPatch):
    from wily_heron.studio.rail import evaluating, rail

    piece = brought_in(desk, sleeve)
    with monkeypatch.context() as broken:
        broken.setattr(evaluating, "_made", lambda row: (_ for _ in ()).throw(MemoryError()))
        jobs.do_all()
    assert stands(piece.id).status == "failed"
    waits = rail.again(desk, piece.id)
    assert (waits.status, waits.error, jobs.names()) == ("waiting", None, ["evaluate_edit"])
    jobs.do_all()
    assert stands(piece.id).stands()
    with pytest.raises(InputError, match="not failed"):
        rail.again(desk, piece.id)
