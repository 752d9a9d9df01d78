"""Working copies: what an artist goes back to is what stood, and nothing that was done since is lost."""

import numpy as np
import pytest

from tests.studio.conftest import Jobs
from wily_heron.core.clearance.find.shots import Shot
from wily_heron.core.errors import InputError, NotFound
from wily_heron.core.model.model import Model
from wily_heron.core.model.steps.receive import Place
from wily_heron.formats.images.png import read_png
from wily_heron.studio.desk import Desk
from wily_heron.studio.productions.overview import Overview


def now(desk: Desk) -> Overview:
    from wily_heron.studio.productions.overview import overview

    return overview(desk.production)


def as_told(seen: Overview) -> dict:
    """What the Fitting room shows, but for what undo and redo could do."""
    return {"cast": [w.model_dump(exclude={"can_undo", "can_redo"}) for w in seen.cast], "poses": [p.name for p in seen.poses],
            "shots": [s.model_dump() for s in seen.shots],
            "pieces": [p.model_dump(exclude={"undo_label", "redo_label"}) for p in seen.pieces]}


@pytest.fixture
def band(desk: Desk, jobs: Jobs, sleeve: Model) -> int:
    from wily_heron.studio.rail import rail

    piece = rail.bring_in(desk, sleeve, "waist-band.obj").id
    jobs.do_all()
    return piece


def test_going_back_puts_cast_poses_shots_and_rail_where_they_were_and_what_came_since_can_be_had_again(
        desk: Desk, jobs: Jobs, sleeve: Model, band: int):
    from wily_heron.studio.productions import cast, copies, poses, shots
    from wily_heron.studio.rail import rail

    ibbet, moss = now(desk).cast
    jetty = Shot(name="Jetty", eye=(0.0, 1.4, 4.0), target=(0.0, 1.0, 0.0), lens=0.6)
    shots.keep(desk, [jetty])
    copies.keep(desk, "Before  the fitting with the director ")
    before = as_told(now(desk))

    row = rail.get(band)
    rail.change_recipe(desk, band, row.recipe.model_copy(update={"steps": (*row.recipe.steps, Place())}), "Place", row.edit)
    rail.bring_in(desk, sleeve, "scarf.obj")
    cast.set_shape(desk, ibbet.id, {"hip": 0.9})
    cast.drop(desk, moss.id)
    cast.add(desk, "Corvane", {}, None)
    poses.put_on_axis(desk.production, "sit")
    shots.change(desk.production, now(desk).shots[0].id, jetty.model_copy(update={"name": "Pier"}), None, None)
    jobs.do_all()
    after = as_told(now(desk))
    assert after != before

    mine = next(line for line in copies.copies(desk.production) if not line.automatic)
    assert (mine.name, mine.author, mine.pieces, mine.wearers) == ("Before the fitting with the director", "Wrenna", 1, 2)
    copies.go_back(desk, mine.id)
    assert as_told(now(desk)) == before
    assert jobs.asked == []  # all that stands was computed before
    assert rail.step(desk, band, "redo").label == "Place"  # what came since is there to be redone
    assert cast.step(ibbet.id, "redo").shape == {"hip": 0.9}

    copies.go_back(desk, mine.id)
    kept = next(line for line in copies.copies(desk.production) if line.automatic and line.pieces == 2)
    copies.go_back(desk, kept.id)
    assert as_told(now(desk)) == after


def test_a_deletion_an_import_and_a_plan_are_preceded_by_a_copy_and_what_changes_nothing_is_not(desk: Desk, jobs: Jobs, band: int):
    from wily_heron.studio.plan import carrying_out
    from wily_heron.studio.productions import cast, copies
    from wily_heron.studio.rail import rail

    cast.drop(desk, now(desk).cast[1].id)
    rail.take_off(desk, band)
    assert [line.name for line in copies.copies(desk.production)] == [
        "Before taking Waist band off", "Before taking Old Moss out of the cast", "Before bringing in Waist band"]
    copies.go_back(desk, copies.copies(desk.production)[0].id)
    plan = carrying_out.begin(desk, None)
    jobs.do_all()
    carrying_out.carry_out(desk, plan.id)
    carrying_out.undo(plan.id)
    told = [line.name for line in copies.copies(desk.production)]
    assert told[:2] == ["Before a plan", "Before going back to Before taking Waist band off"]
    copies.go_back(desk, copies.copies(desk.production)[0].id)  # it stands so already
    assert [line.name for line in copies.copies(desk.production)] == told


def test_a_piece_taken_out_of_a_copy_hangs_beside_the_others_with_its_history(desk: Desk, jobs: Jobs, band: int):
    from wily_heron.studio.productions import copies
    from wily_heron.studio.rail import rail

    row = rail.get(band)
    rail.change_recipe(desk, band, row.recipe.model_copy(update={"steps": (*row.recipe.steps, Place())}), "Place", row.edit)
    jobs.do_all()
    copy = copies.keep(desk, "Two steps")[0]
    stood = rail.get(band)
    rail.take_off(desk, band)
    look = copies.look(desk.production, copy.id)
    assert [(p.name, p.label, p.since) for p in look.pieces] == [("Waist band", "Place", "gone")]
    back = copies.take_piece(desk, copy.id, band)
    assert (back.name, back.geometry, back.worn, back.recipe) == ("Waist band", stood.geometry, stood.worn, stood.recipe)
    assert back.id != band
    again = copies.take_piece(desk, copy.id, band)
    assert (again.name, again.rail) == ("Waist band 2", back.rail + 1)
    assert [p.name for p in now(desk).pieces] == ["Waist band 2", "Waist band"]
    assert rail.step(desk, back.id, "undo").label == "Bring in Waist band"
    assert copies.look(desk.production, copy.id).come_since == ["Waist band 2", "Waist band"]
    with pytest.raises(NotFound, match="holds no piece"):
        copies.take_piece(desk, copy.id, again.id)


def test_a_copy_is_looked_at_and_shows_who_wore_what_then(desk: Desk, band: int):
    from wily_heron.studio.productions import cast, copies
    from wily_heron.studio.productions.pictures import copy_picture

    copy = copies.keep(desk, "With the band")[0]
    first, second = now(desk).cast
    cast.set_shape(desk, first.id, {"girth": 1.0})
    cast.drop(desk, second.id)
    look = copies.look(desk.production, copy.id)
    assert [(w.name, w.since) for w in look.wearers] == [("Ibbet", "changed"), ("Old Moss", "gone")]
    assert [(p.name, p.since) for p in look.pieces] == [("Waist band", "same")]
    picture = read_png(copy_picture(desk.production, copy.id)).astype(int)
    assert np.count_nonzero(picture[..., 2] > picture[..., 0] + 10) > 60  # only the band's felt is blue


def test_copies_belong_to_their_production_and_go_along_into_a_duplicate(desk: Desk, jobs: Jobs, band: int):
    from wily_heron.studio.productions import all_productions, copies, poses
    from wily_heron.studio.rail import rail

    copy = copies.keep(desk, "With the band")[0]
    rail.take_off(desk, band)
    other = Desk(all_productions.duplicate(desk.production, jobs), "Orrel", jobs)
    for gone in (lambda: copies.look(other.production, copy.id), lambda: copies.go_back(other, copy.id),
                 lambda: copies.drop(other.production, copy.id), lambda: copies.take_piece(other, copy.id, band)):
        with pytest.raises(NotFound):
            gone()
    theirs = next(line for line in copies.copies(other.production) if line.name == "With the band")
    copies.go_back(other, theirs.id)
    assert [p.name for p in now(other).pieces] == ["Waist band"]
    assert now(other).pieces[0].id != band
    assert now(desk).pieces == []
    poses.put_on_axis(other.production, "sit")
    assert [p.name for p in now(desk).poses] == ["stand", "kneel"]
    copies.drop(desk.production, copy.id)
    with pytest.raises(NotFound):
        copies.drop(desk.production, copy.id)
    with pytest.raises(InputError, match="no name"):
        copies.keep(desk, "  ")
    all_productions.put_in_bin(other.production)
    all_productions.empty_bin()


def test_pieces_of_a_copy_that_another_figure_was_fitted_on_are_evaluated_anew(desk: Desk, jobs: Jobs, band: int,
                                                                            monkeypatch: pytest.MonkeyPatch):
    from wily_heron.studio.productions import copies

    copy = copies.keep(desk, "Last year")[0]
    monkeypatch.setattr(copies, "figure_version", lambda: "another figure")
    copies.go_back(desk, copy.id)
    assert jobs.names() == ["evaluate_edit"]
    assert now(desk).pieces[0].status == "waiting"
    jobs.do_all()
    assert now(desk).pieces[0].stands()


def test_of_automatic_copies_the_newest_twenty_stay_and_a_named_one_always(desk: Desk):
    from wily_heron.store.productions.copies import AUTOMATIC
    from wily_heron.studio.productions import cast, copies

    copies.keep(desk, "The first day")
    for k in range(AUTOMATIC + 3):
        cast.drop(desk, cast.add(desk, f"Extra {k}", {}, None).id)
    told = [line.name for line in copies.copies(desk.production)]
    assert len(told) == AUTOMATIC + 1
    assert (told[0], told[-1]) == (f"Before taking Extra {AUTOMATIC + 2} out of the cast", "The first day")


def test_an_outfit_taken_out_of_a_copy_is_one_of_its_own_with_all_its_pieces(desk: Desk, jobs: Jobs, sleeve: Model, band: int):
    from wily_heron.studio.productions import copies, outfits
    from wily_heron.studio.rail import rail

    scarf = rail.bring_in(desk, sleeve, "scarf.obj").id
    jobs.do_all()
    copy, first = copies.keep(desk, "Both")[0], now(desk).outfits[0].id
    for piece in (band, scarf):
        rail.take_off(desk, piece)
    taken = copies.take_outfit(desk, copy.id, first)
    there = {o.id: (o.name, o.pieces) for o in outfits.outfits(desk.production)}
    assert there == {first: ("First outfit", 0), taken: ("First outfit 2", 2)}
    assert [p.name for p in now(desk).pieces if p.outfit == taken] == ["Scarf", "Waist band"]  # the outermost first, as then
    assert all(p.stands() for p in now(desk).pieces)
    with pytest.raises(NotFound, match="holds no outfit"):
        copies.take_outfit(desk, copy.id, taken)
    assert len(outfits.outfits(desk.production)) == 2


def test_a_dressed_body_brought_in_since_stays_in_the_stockroom(desk: Desk, sleeve: Model):
    from wily_heron.studio.apart import divisions
    from wily_heron.studio.productions import copies

    copy = copies.keep(desk, "Before it came")[0]
    brought = divisions.bring_in(desk, sleeve, "ferryman.glb")
    copies.go_back(desk, copy.id)
    assert [line.id for line in divisions.all_of(desk.production)] == [brought.row.id]
