"""The settings of a production: what a fit begins with, when a cell holds, whether the sheet measures itself again."""

import numpy as np
import pytest
from pydantic import ValidationError

from tests.studio.conftest import Jobs
from wily_heron.core.clearance.figures import Figures
from wily_heron.core.model.model import Model
from wily_heron.core.model.steps.fit import Fit
from wily_heron.store.productions.settings import Settings
from wily_heron.studio.desk import Desk
from wily_heron.studio.productions import settings
from wily_heron.studio.sheet.judging import judged


def test_a_production_begins_as_the_house_has_it_and_each_keeps_its_own(desk: Desk, jobs: Jobs):
    from wily_heron.studio.productions import all_productions

    assert settings.settings(desk.production) == Settings()
    settled = Settings(ease={"footwear": 0.005}, holds_cm2=0.5, lengths="in", measure_again=False)
    assert settings.change(desk.production, settled) == settled
    assert settings.settings(desk.production) == settled
    other = all_productions.begin("The Salt Road", "Wrenna")
    assert settings.settings(other) == Settings()
    assert settings.settings(all_productions.duplicate(desk.production, jobs)) == settled


@pytest.mark.parametrize("wrong", [{"ease": {"hovercraft": 0.01}}, {"ease": {"top": -0.01}}, {"ease": {"top": 4}}, {"holds_cm2": -1},
                                   {"lengths": "ells"}])
def test_settings_that_mean_nothing_are_refused(wrong: dict):
    with pytest.raises(ValidationError):
        Settings.model_validate(wrong)


@pytest.mark.parametrize(("area", "holes", "limit", "holds"), [(0.1, 0.0, 0.1, True), (0.3, 0.0, 0.1, False), (0.3, 0.0, 0.5, True),
                                                               (0.3, 0.3, 0.5, False), (0.01, 0.0, 0.0, False)])
def test_a_cell_holds_while_it_shows_no_more_than_was_settled(area: float, holes: float, limit: float, holds: bool):
    figures = Figures(clearance_mm=-1.0, area_cm2=area, holes_cm2=holes, places=1, holds=not holds, pairs=())
    assert judged(figures, Settings(holds_cm2=limit)).holds is holds


def test_a_piece_is_dressed_with_the_ease_of_its_category(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.store.db import transaction
    from wily_heron.store.rail.pieces import get_piece, rename
    from wily_heron.studio.rail import dressing, rail

    settings.change(desk.production, Settings(ease={"top": 0.021}))
    piece = rail.bring_in(desk, sleeve, "band.obj")
    jobs.do_all()
    with transaction() as c:
        rename(c, piece.id, None, "top")
    dressing.ask_for(desk, piece.id)
    jobs.do_all()
    with transaction() as c:
        worn = get_piece(c, piece.id)
    assert [step.ease for step in worn.recipe.steps if isinstance(step, Fit)] == [0.021]


def test_the_sheet_is_judged_by_the_settings_and_left_alone_where_they_say_so(desk: Desk, jobs: Jobs, sleeve: Model):
    from wily_heron.core.bench.recipe import Recipe
    from wily_heron.core.model.steps.bind import Bind
    from wily_heron.core.model.steps.follow import Follow
    from wily_heron.core.model.steps.receive import Receive
    from wily_heron.studio.productions import cast
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.rail import rail
    from wily_heron.studio.sheet import trials

    tight = sleeve.mesh.moved((sleeve.mesh.points * np.array([0.8, 1.0, 0.8])).astype(np.float32))
    piece = rail.bring_in(desk, Model(tight), "band.obj")
    jobs.do_all()
    steps = (Receive(unit="m", up="y", hand="right", facing="front"), Bind(), Follow())
    rail.change_recipe(desk, piece.id, Recipe(made_on=piece.recipe.made_on, steps=steps), "Bind", piece.edit)
    jobs.do_all()
    begun = trials.begin(desk)
    jobs.do_all()
    shown = {(c.wearer, c.pose): c.figures.area_cm2 + c.figures.holes_cm2 for c in trials.get(begun.trial.id).cells if c.figures}
    assert max(shown.values()) > 0.1
    for limit in (0.0, min(99.0, max(shown.values()) + 0.001)):
        settings.change(desk.production, Settings(holds_cm2=limit, measure_again=False))
        now = {(c.wearer, c.pose): c.figures.holds for c in trials.get(begun.trial.id).cells if c.figures}
        assert now == {cell: area <= limit for cell, area in shown.items()}
        assert [run.holding for run in trials.runs(desk.production)] == [sum(now.values())]
    cast.set_shape(desk, overview().cast[0].id, {"hip": 0.5})
    assert trials.again(desk) is None
    settings.change(desk.production, Settings())
    assert trials.again(desk) is not None
    jobs.do_all()
