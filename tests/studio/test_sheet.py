"""The trial sheet, hunts, plans and what is left as it is, without HTTP and without a queue."""

import json
from dataclasses import replace

import numpy as np
import pytest

from tests.studio.conftest import Jobs
from wily_heron.core.bench.recipe import Recipe
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.errors import InputError, NotFound
from wily_heron.core.figure.base.body import shape_values, shaped
from wily_heron.core.figure.figure import figure
from wily_heron.core.model.model import Model
from wily_heron.core.model.steps.bind import Bind
from wily_heron.core.model.steps.follow import Follow
from wily_heron.core.model.steps.receive import Receive
from wily_heron.core.motion.pose_library import POSES
from wily_heron.studio.desk import Desk


@pytest.fixture
def worn(desk: Desk, jobs: Jobs, sleeve: Model):
    """A band that Ibbet's waist comes through, bound and following."""
    from wily_heron.store.db import transaction
    from wily_heron.store.rail.pieces import get_piece
    from wily_heron.studio.rail import rail

    tight = replace(sleeve, mesh=sleeve.mesh.moved((sleeve.mesh.points * np.array([0.8, 1.0, 0.8])).astype(np.float32)))
    piece = rail.bring_in(desk, tight, "band.obj")
    jobs.do_all()
    steps = (Receive(unit="m", up="y", hand="right", facing="front"), Bind(), Follow())
    rail.change_recipe(desk, piece.id, Recipe(made_on=piece.recipe.made_on, steps=steps), "Bind", piece.edit)
    jobs.do_all()
    with transaction() as c:
        return get_piece(c, piece.id)


def measured(desk: Desk, jobs: Jobs):
    from wily_heron.studio.sheet import trials

    begun = trials.begin(desk)
    jobs.do_all()
    return trials.get(begun.trial.id)


def test_nothing_worn_is_no_sheet_no_hunt_and_no_pack(desk: Desk, jobs: Jobs):
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.sheet import hunts, trials
    from wily_heron.studio.sheet.export import pack_of

    assert trials.latest(desk.production) is None
    for begin in (lambda: trials.begin(desk), lambda: hunts.begin(desk, 2, 0.5, 0), lambda: pack_of(overview().cast[0].id)):
        with pytest.raises(InputError, match="nothing is worn"):
            begin()
    assert jobs.asked == []


def test_the_sheet_holds_what_the_core_measures_of_the_same_cells(desk: Desk, jobs: Jobs, worn):
    from wily_heron.store.rail.pieces import piece_at
    from wily_heron.studio.productions.overview import overview

    sheet = measured(desk, jobs)
    assert sheet.trial.state == "done"
    assert sheet.stale == frozenset()
    cast = {w.id: w for w in overview().cast}
    assert {(c.wearer, c.pose) for c in sheet.cells} == {(w, pose) for w in cast for pose in ("stand", "kneel")}
    for cell in sheet.cells:
        wearer = shaped(figure(), shape_values(figure(), cast[cell.wearer].shape))
        own = Dressed(wearer, {worn.name: piece_at(worn.geometry)}).measure(POSES[cell.pose], look_for_holes=True).figures
        assert cell.figures is not None
        assert cell.figures.area_cm2 == pytest.approx(own.area_cm2, abs=1e-6)
        assert cell.figures.pairs == own.pairs
    assert any(not c.figures.holds for c in sheet.cells if c.figures)


def test_a_second_sheet_measures_only_what_has_changed(desk: Desk, jobs: Jobs, worn):
    from wily_heron.studio.productions import cast
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.sheet import trials

    first = measured(desk, jobs)
    trials.begin(desk)
    assert jobs.asked == []
    changed = overview().cast[1]
    cast.set_shape(desk, changed.id, {"girth": 0.2})
    stale = trials.get(first.trial.id)
    assert {c.wearer for c in stale.cells if c.key in stale.stale} == {changed.id}
    begun = trials.begin(desk)
    assert {w.values["wearer"] for w in jobs.asked} == {changed.id}
    waiting = [c for c in begun.cells if c.key in begun.stale]  # shown as they were, until they are measured
    assert [(c.wearer, c.figures is not None) for c in waiting] == [(changed.id, True)] * 2
    left = trials.waiting_work()
    assert {w.values["wearer"] for w in left} == {changed.id}
    assert sorted(w for work in left for w in work.values["columns"]) == ["kneel", "stand"]
    trials.cancel(begun.trial.id)
    assert trials.waiting_work() == []
    jobs.do_all()
    assert sum(c.figures is not None for c in trials.get(begun.trial.id).cells) == 2  # a run that is stopped measures no more
    assert next(run.state for run in trials.runs(desk.production)) == "cancelled"
    with pytest.raises(NotFound):
        trials.get(begun.trial.id + 1)


def test_a_change_is_measured_again_by_itself_and_nothing_else_is(desk: Desk, jobs: Jobs, worn):
    from wily_heron.studio.productions import cast
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.sheet import trials

    assert trials.again(desk) is None  # nobody has asked for a sheet
    first = measured(desk, jobs)
    assert trials.again(desk) is None
    changed = overview().cast[1]
    cast.set_shape(desk, changed.id, {"girth": 0.2})
    begun = trials.again(desk)
    assert begun is not None
    assert begun.trial.automatic
    assert {(w.values["wearer"], w.priority < 0) for w in jobs.asked} == {(changed.id, True)}
    assert trials.again(desk) is None  # it is under way
    cast.set_shape(desk, changed.id, {"girth": 0.4})
    last = trials.again(desk)  # what was under way is of no use any more
    assert last is not None
    jobs.do_all()
    now = trials.latest(desk.production)
    assert now is not None
    assert (now.trial.id, now.trial.state, now.stale) == (last.trial.id, "done", frozenset())
    assert trials.get(begun.trial.id).trial.state == "cancelled"
    assert [run.id for run in trials.runs(desk.production)] == [first.trial.id]  # to compare with what was asked for
    trials.cancel(trials.begin(desk).trial.id)


def test_a_sheet_that_was_stopped_and_pieces_being_worked_out_are_left_alone(desk: Desk, jobs: Jobs, worn):
    from wily_heron.studio.productions import cast
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.rail import rail
    from wily_heron.studio.sheet import trials

    measured(desk, jobs)
    row = rail.change_recipe(desk, worn.id, worn.recipe.model_copy(update={"steps": worn.recipe.steps[:2]}), "Unfollow", worn.edit)
    assert row.status == "waiting"
    assert trials.again(desk) is None
    jobs.do_all()
    begun = trials.again(desk)
    assert begun is not None
    trials.cancel(begun.trial.id)
    cast.set_shape(desk, overview().cast[0].id, {"hip": 0.5})
    assert trials.again(desk) is None


def test_chosen_rows_and_columns_are_measured_and_what_is_known_stays(desk: Desk, jobs: Jobs, worn):
    from wily_heron.studio.productions import cast
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.sheet import trials
    from wily_heron.studio.sheet.trials import Choice

    ibbet, moss = (w.id for w in overview().cast)
    begun = trials.begin(desk, Choice(frozenset({moss}), frozenset({"kneel"})))
    assert [(w.values["wearer"], w.values["columns"]) for w in jobs.asked] == [(moss, ["kneel"])]
    jobs.do_all()
    assert [(c.wearer, c.pose) for c in trials.get(begun.trial.id).cells] == [(moss, "kneel")]
    cast.set_shape(desk, moss, {"girth": 0.1})
    cast.set_shape(desk, ibbet, {"hip": 0.4})
    again = trials.again(desk)  # of what was chosen, and of nothing else
    assert again is not None
    assert (again.trial.total, again.trial.whole) == (1, False)
    jobs.do_all()
    more = trials.begin(desk, Choice(frozenset({ibbet})))
    assert {(c.wearer, c.pose) for c in more.cells} == {(ibbet, "stand"), (ibbet, "kneel"), (moss, "kneel")}
    with pytest.raises(InputError, match="no cell is chosen"):
        trials.begin(desk, Choice(frozenset()))
    jobs.do_all()


def test_a_run_of_one_outfit_is_of_it_on_everybody_whatever_they_have_on(desk: Desk, jobs: Jobs, worn):
    from wily_heron.studio.productions import outfits
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.sheet import trials
    from wily_heron.studio.sheet.export import _checked
    from wily_heron.studio.sheet.trials import Choice

    own = measured(desk, jobs)
    moss = overview().cast[1]
    bare = outfits.begin(desk, "Undress")
    outfits.put_on(moss.id, bare)
    jobs.do_all()
    plain = measured(desk, jobs)
    assert {c.wearer for c in plain.cells} == {overview().cast[0].id}
    of_it = trials.begin(desk, Choice(outfit=worn.outfit))
    assert of_it.trial.of_outfit == worn.outfit
    assert {(c.wearer, c.pose): c.figures for c in of_it.cells} == {(c.wearer, c.pose): c.figures for c in own.cells}  # all known
    assert of_it.stale == frozenset()
    assert trials.again(desk) is None
    assert _checked(desk.production, {}) == {}  # a pack is of what each has on


def test_a_table_of_a_sheet_that_runs_holds_only_what_this_run_has_measured(desk: Desk, jobs: Jobs, worn):
    from wily_heron.studio.productions import cast
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.sheet import trials
    from wily_heron.studio.sheet.export import sheet_as

    measured(desk, jobs)
    changed = overview().cast[1]
    cast.set_shape(desk, changed.id, {"girth": 0.2})
    begun = trials.begin(desk)
    rows = json.loads(sheet_as(begun.trial.id, "json"))["cells"]
    assert {(row["wearer"], "area_cm2" in row) for row in rows} == {(changed.name, False), (overview().cast[0].name, True)}
    jobs.do_all()


def test_a_sheet_makes_way_for_a_job_that_an_artist_waits_for(desk: Desk, jobs: Jobs, worn, monkeypatch: pytest.MonkeyPatch):
    from wily_heron.studio.sheet import trials

    begun = trials.begin(desk)
    work = jobs.asked.pop(0)
    monkeypatch.setattr(trials, "urgent_waits", lambda connection: True)
    handed_on: list = []
    trials.measure_wearer(**{**work.values, "shots": []}, ask=handed_on.append)
    assert [w.values["columns"] for w in handed_on] == [work.values["columns"]]
    monkeypatch.undo()
    jobs.asked += handed_on
    jobs.do_all()
    assert trials.get(begun.trial.id).trial.state == "done"


def test_what_showed_most_before_is_measured_first(desk: Desk, jobs: Jobs, worn):
    from wily_heron.studio.sheet.trials import _worst_first

    missing = [(1, "stand"), (1, "kneel"), (2, "stand"), (2, "kneel")]
    order = _worst_first(missing, {(2, "kneel"): 30.0, (1, "stand"): 4.0})
    assert order[0] == (2, ["kneel"])
    assert sorted((w, c) for w, columns in order for c in columns) == sorted(missing)


def test_a_cell_that_cannot_be_measured_says_why_and_the_others_are(desk: Desk, jobs: Jobs, worn, monkeypatch: pytest.MonkeyPatch):
    from wily_heron.studio.sheet import trials

    real = trials.measured

    def fails(dressed: Dressed, column: str, shots: object = None) -> object:
        if column == "kneel":
            raise ValueError("the knee is not there")
        return real(dressed, column, shots)

    monkeypatch.setattr(trials, "measured", fails)
    sheet = measured(desk, jobs)
    assert sheet.trial.state == "done"
    assert {c.error for c in sheet.cells if c.pose == "kneel"} == {"the knee is not there"}
    assert all(c.figures for c in sheet.cells if c.pose == "stand")


def test_what_is_left_as_it_is_and_what_matters_is_kept_by_cell(desk: Desk, jobs: Jobs, worn):
    from wily_heron.store.sheet.waivers import PinRow
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.sheet import waivers

    cell = PinRow(wearer=overview().cast[0].id, pose="kneel")
    assert [w.reason for w in waivers.waive(desk, cell, worn.name, "hidden by the mail sack", False)] == ["hidden by the mail sack"]
    again = waivers.waive(desk, cell, worn.name, "no shot sees it", True)
    assert [(w.reason, w.by_shots, w.author) for w in again] == [("no shot sees it", True, "Wrenna")]
    assert waivers.unwaive(desk.production, again[0].id) == []
    assert waivers.pin(desk.production, cell, True) == waivers.pin(desk.production, cell, True) == [cell]
    assert waivers.pin(desk.production, cell, False) == []


def test_a_plan_changes_nothing_until_it_is_carried_out_and_is_taken_back_whole(desk: Desk, jobs: Jobs, worn):
    from wily_heron.store.db import transaction
    from wily_heron.store.rail.pieces import get_piece
    from wily_heron.store.sheet.plans import PlannedFor
    from wily_heron.studio.plan import carrying_out
    from wily_heron.studio.productions.overview import overview

    def edit() -> int:
        with transaction() as c:
            return get_piece(c, worn.id).edit

    before = measured(desk, jobs)
    wearer = overview().cast[0]
    plan = carrying_out.begin(desk, PlannedFor(wearer=wearer.id, pose="stand"))
    assert [w.values for w in carrying_out.waiting_work()] == [{"plan": plan.id}]
    jobs.do_all()
    made = carrying_out.latest(desk.production)
    assert made is not None
    assert (made.id, made.state) == (plan.id, "ready")
    assert edit() == worn.edit
    (cell,) = [c for c in made.cells if c.wearer == wearer.id]
    shown = next(c.figures.area_cm2 for c in before.cells if (c.wearer, c.pose) == (wearer.id, "stand") and c.figures)
    assert cell.before_cm2 == pytest.approx(shown, abs=1e-3)
    assert cell.after_cm2 < 0.2 * cell.before_cm2
    done = carrying_out.carry_out(desk, plan.id)
    assert done.state == "done"
    assert [e.edit for e in done.edits] == [edit()]
    assert jobs.asked == []  # it is computed already
    after = measured(desk, jobs)
    now = next(c.figures.area_cm2 for c in after.cells if (c.wearer, c.pose) == (wearer.id, "stand") and c.figures)
    assert now == pytest.approx(cell.after_cm2, abs=0.01)  # what was promised is what is measured
    with pytest.raises(InputError, match="the plan is done"):
        carrying_out.drop(plan.id)
    assert carrying_out.undo(plan.id).state == "undone"
    assert edit() == worn.edit
    with pytest.raises(NotFound):
        carrying_out.carry_out(desk, plan.id + 1)


def test_a_hunt_has_a_new_seed_each_time_and_goes_on_where_it_was(desk: Desk, jobs: Jobs, worn):
    from wily_heron.studio.sheet import hunts

    first = hunts.begin(desk, 2, 0.6, 1)
    assert [p.name for p in first.parts][:2] == ["Ibbet", "Old Moss"]
    assert len(first.parts) == 3
    assert len(hunts.waiting_work()) == 3
    jobs.do_all()
    done = hunts.get(first.row.id)
    assert done.row.state == "done"
    assert sum(p.done for p in done.parts) == 6
    assert done.failed >= len(done.worst) > 0
    areas = [f.figures.area_cm2 + f.figures.holes_cm2 for f in done.worst]
    assert areas == sorted(areas, reverse=True)
    second = hunts.begin(desk, 2, 0.6, 0)
    assert second.row.seed == first.row.seed + 1
    hunts.cancel(second.row.id)
    jobs.do_all()
    assert sum(p.done for p in hunts.get(second.row.id).parts) == 0
    with pytest.raises(NotFound):
        hunts.cancel(second.row.id + 1)


def test_the_pack_tells_what_the_last_sheet_found_while_it_is_true(desk: Desk, jobs: Jobs, worn):
    from wily_heron.formats.pack.read import read_pack
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.rail import rail
    from wily_heron.studio.sheet.export import pack_of

    sheet, wearer = measured(desk, jobs), overview().cast[0]
    name, data = pack_of(wearer.id)
    packed = read_pack(data, name)
    assert name == "ibbet.glb"
    assert list(packed.dressed()) == [worn.name]
    size = int.from_bytes(data[12:16], "little")
    extras = json.loads(data[20:20 + size])["scenes"][0]["extras"]["wily_heron"]
    told = {(c["wearer"], c["pose"]): c["area_cm2"] for c in extras["clearance"]["cells"]}
    names = {w.id: w.name for w in overview().cast}
    assert told == {(names[c.wearer], c.pose): c.figures.area_cm2 for c in sheet.cells if c.figures}
    rail.change_recipe(desk, worn.id, Recipe(steps=worn.recipe.steps[:2]), "Unfollow", worn.edit)
    jobs.do_all()
    with pytest.raises(InputError, match="not bound and following"):
        pack_of(wearer.id)
