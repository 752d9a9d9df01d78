"""Outfits: each wearer is measured, dressed and packed in what is on, and in nothing that hangs elsewhere."""

import io

import pytest
import trimesh

from tests.studio.conftest import Jobs
from wily_heron.core.errors import InputError, NotFound
from wily_heron.core.model.model import Model
from wily_heron.core.model.steps.bind import Bind
from wily_heron.core.model.steps.fit import Fit
from wily_heron.core.model.steps.follow import Follow
from wily_heron.core.model.steps.receive import Place
from wily_heron.studio.desk import Desk
from wily_heron.studio.productions.overview import Overview


def now(desk: Desk) -> Overview:
    from wily_heron.studio.productions.overview import overview

    return overview(desk.production)


def hung(desk: Desk, jobs: Jobs, sleeve: Model, name: str, wearer: int) -> int:
    """A bound band on a wearer's rail."""
    from wily_heron.studio.rail import rail

    piece = rail.bring_in(desk, sleeve, f"{name}.obj", wearer)
    steps = (*piece.recipe.steps, Place(), Fit(), Bind(), Follow())
    rail.change_recipe(desk, piece.id, piece.recipe.model_copy(update={"steps": steps}), "Dress", piece.edit)
    jobs.do_all()
    return piece.id


@pytest.fixture
def two(desk: Desk, jobs: Jobs, sleeve: Model) -> tuple[int, int]:
    """Ibbet in the first outfit with a band, Old Moss in one of his own with a scarf; returns the outfits."""
    from wily_heron.studio.productions import outfits

    ibbet, moss = now(desk).cast
    first = ibbet.outfit
    hung(desk, jobs, sleeve, "band", ibbet.id)
    rain = outfits.begin(desk, "  Rain ", wearer=moss.id)
    hung(desk, jobs, sleeve, "scarf", moss.id)
    return first, rain


def test_the_sheet_measures_each_wearer_in_what_is_on(desk: Desk, jobs: Jobs, two: tuple[int, int]):
    from wily_heron.studio.productions import outfits
    from wily_heron.studio.sheet import trials

    trials.begin(desk)
    jobs.do_all()
    sheet = trials.latest(desk.production)
    assert sheet
    name = {w.id: w.name for w in now(desk).cast}
    found = {(name[c.wearer], pair.over) for c in sheet.cells if c.figures for pair in c.figures.pairs}
    assert found == {("Ibbet", "Band"), ("Old Moss", "Scarf")}
    assert not sheet.stale
    outfits.put_on(now(desk).cast[1].id, two[0])
    stale = trials.latest(desk.production)
    assert stale
    assert {name[c.wearer] for c in stale.cells if c.key in stale.stale} == {"Old Moss"}  # only his cells have changed
    trials.begin(desk)
    jobs.do_all()
    shared = trials.latest(desk.production)
    assert shared
    assert {pair.over for c in shared.cells if c.figures for pair in c.figures.pairs} == {"Band"}


def test_packs_and_cells_hold_what_the_wearer_has_on(desk: Desk, two: tuple[int, int]):
    from wily_heron.studio.sheet import cells
    from wily_heron.studio.sheet.export import pack_of
    from wily_heron.studio.stage_cell import StageCell

    ibbet, moss = now(desk).cast
    for who, piece in ((ibbet, "band"), (moss, "scarf")):
        scene = trimesh.load(io.BytesIO(pack_of(who.id)[1]), file_type="glb")
        assert {n for n in scene.graph.nodes if n.startswith("piece:")} == {f"piece:{piece}"}
        figures, _ = cells.measure(desk.production, StageCell(shape=who.shape, pose="stand", wearer=who.id))
        assert {pair.over for pair in figures.pairs} == {piece.capitalize()}


def test_a_plan_a_hunt_and_wearing_on_keep_to_each_outfit(desk: Desk, jobs: Jobs, two: tuple[int, int]):
    from wily_heron.studio.plan import carrying_out
    from wily_heron.studio.rail import wearing
    from wily_heron.studio.sheet import hunts

    ibbet, moss = now(desk).cast
    band, scarf = (next(p.id for p in now(desk).pieces if p.name == name) for name in ("Band", "Scarf"))
    _, rows = wearing.begin(desk, None)
    assert {(r.piece, r.wearer) for r in rows} == {(band, ibbet.id), (scarf, moss.id)}
    jobs.asked.clear()
    hunt = hunts.begin(desk, 2, 0.5, 1)
    worn = {name: [piece for piece, _ in pieces] for name, pieces in hunt.row.outfit.items()}
    assert worn == {"Ibbet": ["Band"], "Old Moss": ["Scarf"], "Mix 1.1": ["Band"]}
    jobs.asked.clear()
    plan = carrying_out.begin(desk, None)
    jobs.do_all()
    made = carrying_out.latest(desk.production)
    assert made
    assert (made.id, made.state) == (plan.id, "ready")
    assert {(c.wearer, c.pose) for c in made.cells} == {(w, p) for w in (ibbet.id, moss.id) for p in ("stand", "kneel")}


def test_an_outfit_like_another_holds_copies_that_are_changed_on_their_own(desk: Desk, jobs: Jobs, two: tuple[int, int]):
    from wily_heron.studio.productions import outfits
    from wily_heron.studio.rail import rail

    first, _ = two
    copy = outfits.begin(desk, "Rain, spare", like=first)
    band = next(p for p in now(desk).pieces if p.outfit == first)
    mine = next(p for p in now(desk).pieces if p.outfit == copy)
    assert (mine.name, mine.geometry, mine.recipe, mine.label) == ("Band", band.geometry, band.recipe, "Dress")
    rail.step(desk, mine.id, "undo")
    jobs.do_all()
    assert rail.get(mine.id).label == "Bring in Band"
    assert rail.get(band.id).label == "Dress"
    assert {o.name: o.pieces for o in now(desk).outfits} == {"First outfit": 1, "Rain": 1, "Rain, spare": 1}
    with pytest.raises(NotFound):
        outfits.begin(desk, "Nothing", like=10_000)
    assert len(now(desk).outfits) == 3  # what could not be begun is not there


def test_outfits_are_named_once_owned_by_who_wore_them_and_deleted_only_off_everybody(desk: Desk, jobs: Jobs, two: tuple[int, int]):
    from wily_heron.studio.productions import all_productions, copies, outfits

    first, rain = two
    ibbet, moss = now(desk).cast
    outfits.put_on(ibbet.id, rain)
    assert [(o.name, o.worn_by, o.owners) for o in now(desk).outfits] == [
        ("First outfit", [], [ibbet.id, moss.id]), ("Rain", [ibbet.id, moss.id], [ibbet.id, moss.id])]
    for taken in (lambda: outfits.begin(desk, "Rain"), lambda: outfits.rename(desk.production, first, "Rain")):
        with pytest.raises(InputError, match="already an outfit"):
            taken()
    with pytest.raises(InputError, match="no name"):
        outfits.begin(desk, " ")
    with pytest.raises(InputError, match="somebody has it on"):
        outfits.drop(desk, rain)
    outfits.rename(desk.production, first, "Undress")
    outfits.drop(desk, first)
    assert [(o.name, o.pieces) for o in now(desk).outfits] == [("Rain", 1)]
    assert [p.name for p in now(desk).pieces] == ["Scarf"]
    copies.go_back(desk, copies.copies(desk.production)[0].id)  # what was deleted is kept in a working copy
    assert {o.name: o.pieces for o in now(desk).outfits} == {"Undress": 1, "Rain": 1}
    other = all_productions.begin("The Salt Road", "Orrel")
    theirs = outfits.outfits(other)[0].id
    for stranger in (lambda: outfits.put_on(ibbet.id, theirs), lambda: outfits.drop(desk, theirs),
                     lambda: outfits.rename(desk.production, theirs, "Ours")):
        with pytest.raises(NotFound):
            stranger()
    all_productions.put_in_bin(other)
    all_productions.empty_bin()


def test_pieces_change_places_within_their_outfit_alone(desk: Desk, jobs: Jobs, sleeve: Model, two: tuple[int, int]):
    from wily_heron.studio.rail import rail

    ibbet = now(desk).cast[0]
    belt = hung(desk, jobs, sleeve, "belt", ibbet.id)  # scarf hangs between it and the band, on another rail
    rail.move(belt, outwards=False)
    mine = [p.name for p in now(desk).pieces if p.outfit == two[0]]
    assert mine == ["Band", "Belt"]
    with pytest.raises(InputError):
        rail.move(belt, outwards=False)


def test_a_copy_on_another_rail_keeps_its_origin_and_takes_over_what_came_later_when_asked(desk: Desk, jobs: Jobs, two: tuple[int, int]):
    from wily_heron.studio.rail import copying, rail

    band = next(p for p in now(desk).pieces if p.name == "Band")
    copy = copying.copy(desk, band.id, two[1])
    assert jobs.asked == []  # it is computed already
    assert (copy.name, copy.origin, copy.origin_outfit, copy.origin_changed) == ("Band", "Band", "First outfit", False)
    assert (copy.outfit, copy.geometry, copy.recipe) == (two[1], band.geometry, band.recipe)
    assert [p.name for p in now(desk).pieces if p.outfit == two[1]] == ["Band", "Scarf"]  # over what hangs there
    looser = [s.model_copy(update={"ease": 0.02}) if isinstance(s, Fit) else s for s in band.recipe.steps]
    rail.change_recipe(desk, band.id, band.recipe.model_copy(update={"steps": tuple(looser)}), "Looser", band.edit)
    jobs.do_all()
    assert rail.get(copy.id).origin_changed
    assert rail.get(copy.id).geometry == band.geometry  # nothing of it changes by itself
    copying.take_over(desk, copy.id)
    jobs.do_all()
    taken = rail.get(copy.id)
    assert (taken.geometry, taken.label, taken.origin_changed) == (rail.get(band.id).geometry, "Take over Band", False)
    assert rail.step(desk, copy.id, "undo").geometry == band.geometry
    rail.take_off(desk, band.id)
    alone = rail.get(copy.id)
    assert (alone.origin, alone.origin_changed) == (None, None)
    with pytest.raises(InputError, match="no copy"):
        copying.take_over(desk, copy.id)
    with pytest.raises(NotFound):
        copying.copy(desk, copy.id, 10_000)


def test_a_bundle_is_put_on_over_what_is_worn_or_instead_of_it_as_an_outfit_of_its_own(desk: Desk, jobs: Jobs, two: tuple[int, int]):
    from wily_heron.studio.stock import keeping, order, using

    ibbet = now(desk).cast[0]
    item = keeping.keep_piece(desk, next(p.id for p in now(desk).pieces if p.name == "Band"))
    bundle = order.put_bundle(desk, "Rain", [item])
    over = using.dress_bundle(desk, bundle, ibbet.id)
    assert [p.outfit for p in over] == [two[0]]
    instead = using.dress_bundle(desk, bundle, ibbet.id, instead=True)
    seen = now(desk)
    assert {o.name: o.pieces for o in seen.outfits} == {"First outfit": 2, "Rain": 1, "Rain 2": 1}  # a name is given once
    assert seen.cast[0].outfit == instead[0].outfit
    assert seen.cast[1].outfit == two[1]
