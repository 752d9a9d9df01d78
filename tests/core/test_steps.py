"""The list of the bench's steps, and all that is derived from it."""

from typing import Annotated

import pytest
from pydantic import BaseModel, TypeAdapter, ValidationError
from pydantic.fields import FieldInfo

from wily_heron.core.bench.recipe import BY_KIND, ORDER, Recipe, catalogue, check_order
from wily_heron.core.bench.reports import Reports, read_reports
from wily_heron.core.bench.steps import BENCH, STEPS
from wily_heron.core.errors import InputError
from wily_heron.core.model.report import report_notes, with_report
from wily_heron.core.model.steps.draping import DrapeReport


def test_every_step_is_declared_once_under_a_name_of_its_own():
    assert len(BY_KIND) == len(STEPS)
    assert ORDER == ("receive", "place", "fit", "work", "bind", "weigh", "follow", "clear")
    assert {step.bench for step in STEPS} <= set(BENCH)


def test_an_alteration_is_read_by_its_kind_and_an_unknown_one_is_refused():
    for step in STEPS:
        missing = _required(step.model)
        read = Recipe.model_validate({"steps": [{"kind": step.kind, **missing}]}).steps[0]
        assert type(read) is step.model
    with pytest.raises(ValidationError, match="does not match any of the expected tags"):
        Recipe.model_validate({"steps": [{"kind": "starch"}]})


def test_what_the_catalogue_says_is_what_the_models_do():
    for told in catalogue()["kinds"]:
        step = BY_KIND[told["kind"]]
        missing = _required(step.model)
        assert step.model.model_validate({**missing, **told["defaults"]}) == step.model.model_validate(missing)


def test_nothing_comes_before_what_it_needs_and_only_what_may_repeat_repeats():
    for step in STEPS:
        made = step.model.model_construct(kind=step.kind)
        before = [BY_KIND[step.needs].model.model_construct(kind=step.needs)] if step.needs else []
        check_order(Recipe.model_construct(steps=(*before, made)))
        if step.needs:
            with pytest.raises(InputError, match="not bound"):
                check_order(Recipe.model_construct(steps=(made,)))
        if not step.repeats:
            with pytest.raises(InputError, match="cannot come after"):
                check_order(Recipe.model_construct(steps=(*before, made, made)))


def test_reports_of_old_pieces_are_read_without_what_a_later_version_has_dropped():
    old = {"place": {"moved": 0.1}, "work": [{"kind": "stroke", "tool": "pull", "dropped_since": 1}], "starch": {"stiff": 2}}
    read = Reports.model_validate(old)
    assert read.model_dump()["work"][0]["tool"] == "pull"
    assert read.model_dump()["drape"] == []


def test_reports_of_what_may_repeat_stand_in_a_list_in_the_order_they_were_made():
    one, two = (DrapeReport(frames=n, vertices=9, fabric="linen", strain_mean=0, strain_99=0, speed=0, bending_met=1, shear_met=1)
                for n in (1, 2))
    both = with_report(with_report((), one), two)
    assert [r["frames"] for r in report_notes(both)["drape"]] == [1, 2]
    assert read_reports(report_notes(both)) == (one, two)


_VALUES = ("l_knee", "pull", "add", (3,), ("jump",), (), {"pose": "sit"}, (0.0, 1.0, 0.0),
           {"by": "plane", "point": (0.0, 1.0, 0.0), "normal": (0.0, 1.0, 0.0)})


def _required(model: type[BaseModel]) -> dict:
    """Return a value that each field without a default takes."""
    needed = {name: field for name, field in model.model_fields.items() if field.is_required()}
    return {name: next(value for value in _VALUES if _takes(field, value)) for name, field in needed.items()}


def _takes(field: FieldInfo, value: object) -> bool:
    try:
        TypeAdapter(Annotated[field.annotation, None, *field.metadata]).validate_python(value)
    except ValidationError:
        return False
    return True
