"""History, blobs and migrations on a real PostgreSQL."""

import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import numpy as np
import psycopg
import pytest

from wily_heron.core.bench.recipe import Recipe
from wily_heron.core.bench.reports import read_reports
from wily_heron.core.clearance.figures import Figures
from wily_heron.core.errors import InputError, StorageError
from wily_heron.core.figure.base.skeleton import Skeleton, Skin
from wily_heron.core.mesh.mesh import Material, Mesh
from wily_heron.core.model.model import Model, Texture
from wily_heron.core.model.report import report_notes
from wily_heron.core.model.state import Piece
from wily_heron.core.model.steps.bind import Bind, BindReport, Weigh
from wily_heron.core.model.steps.receive import Place, Receive
from wily_heron.core.model.steps.work import WorkReport
from wily_heron.core.motion.motion import Motion
from wily_heron.store.blobs.arrays import bytes_piece, piece_bytes
from wily_heron.store.blobs.models import get_model, put_model
from wily_heron.store.db import Connection, await_schema, database_url, get_blob, migrate, put_blob, run, transaction
from wily_heron.store.productions.wearers import add_wearer
from wily_heron.store.rail import pieces as store
from wily_heron.store.rail import wear
from wily_heron.store.sheet import hunts, trials

pytestmark = pytest.mark.usefixtures("database")

_WORK = WorkReport(kind="smooth", vertices=3, triangles=1, touched=3)


def _mesh() -> Mesh:
    return Mesh(np.eye(3, dtype=np.float32), np.array([[0, 1, 2]], np.int32), None, materials=(Material("felt", (0.1, 0.2, 0.3)),))


@pytest.fixture
def piece() -> int:
    with transaction() as c:
        production = run(c, "add_production", name="Test")[0]["id"]
        sha = put_model(c, Model(_mesh()))
        return store.add_piece(c, production, "Cap", "top", "cap.obj", sha, Recipe(steps=(Receive(),)), "Wrenna")[0]


def _recipe(piece: int) -> list[str]:
    with transaction() as c:
        return [s.kind for s in store.get_piece(c, piece).recipe.steps]


def test_what_starts_beside_the_setup_waits_until_the_last_migration_is_applied():
    await_schema(0.0)
    with psycopg.connect(database_url(), autocommit=True) as last, ThreadPoolExecutor(1) as beside:
        row = last.execute("delete from migration where name = (select max(name) from migration) returning name").fetchone()
        assert row is not None
        try:
            with pytest.raises(StorageError, match="not been applied"):
                await_schema(0.1)
            waiting = beside.submit(await_schema, 20.0)
            time.sleep(0.2)
            assert not waiting.done()
        finally:
            last.execute("insert into migration (name) values (%s)", row)
        assert waiting.result() is None


def test_undo_and_redo_walk_the_edits_and_overwrite_nothing(piece: int):
    placed = Recipe(steps=(Receive(), Place(move=(0, 0.1, 0))))
    with transaction() as c:
        store.change_recipe(c, piece, placed, "Place", "Wrenna", None)
    assert _recipe(piece) == ["receive", "place"]
    with transaction() as c:
        store.undo(c, piece)
    assert _recipe(piece) == ["receive"]
    with transaction() as c:
        store.redo(c, piece)
    assert _recipe(piece) == ["receive", "place"]
    with transaction() as c, pytest.raises(InputError, match="nothing to redo"):
        store.redo(c, piece)


def test_a_change_made_on_an_older_edit_is_refused(piece: int):
    with transaction() as c:
        seen = store.get_piece(c, piece).edit
        store.change_recipe(c, piece, Recipe(steps=(Receive(), Place())), "Place", "Ibbet", seen)
    with transaction() as c, pytest.raises(InputError, match="another window"):
        store.change_recipe(c, piece, Recipe(steps=(Receive(),)), "Back", "Corvane", seen)
    assert _recipe(piece) == ["receive", "place"]


def test_a_failure_in_a_transaction_leaves_nothing_half_done(piece: int):
    def half() -> None:
        with transaction() as c:
            put_blob(c, b"half a piece", "mesh")
            store.change_recipe(c, piece, Recipe(steps=(Receive(), Place())), "Place", "Ibbet", None)
            raise RuntimeError("the power went")

    with pytest.raises(RuntimeError):
        half()
    assert _recipe(piece) == ["receive"]
    with transaction() as c:
        assert c.execute("select count(*) as n from blob where kind = 'mesh' and length(bytes) = 12").fetchone() == {"n": 0}


def test_a_damaged_blob_is_noticed():
    with transaction() as c:
        sha = put_blob(c, b"the night post", "note")
        assert put_blob(c, b"the night post", "note") == sha
        c.execute("update blob set bytes = 'the day post' where sha256 = %s", [sha])
        with pytest.raises(StorageError, match="damaged"):
            get_blob(c, sha)
        c.execute("delete from blob where sha256 = %s", [sha])


def test_pieces_come_back_as_they_were_stored():
    skin = Skin(np.zeros((3, 4), np.int32), np.tile(np.array([1, 0, 0, 0], np.float32), (3, 1)))
    piece = Piece(_mesh(), np.array([0.1, -0.2]), skin, np.ones((2, 3, 3), np.float32),
                  (_WORK, BindReport(joints=1, most=4, accepted=1.0, solved=0.0), _WORK.model_copy(update={"touched": 9})))
    back = bytes_piece(piece_bytes(piece))
    assert np.array_equal(back.mesh.points, piece.mesh.points)
    assert np.array_equal(back.deltas, piece.deltas)
    assert back.mesh.materials == piece.mesh.materials
    assert back.reports_of(WorkReport) == piece.reports_of(WorkReport)
    assert back.report_of(BindReport) == piece.report_of(BindReport)
    assert piece_bytes(back) == piece_bytes(piece)


def test_reports_of_a_step_that_is_gone_are_passed_over():
    kept = report_notes((_WORK,)) | {"starch": {"stiff": 1}}
    assert read_reports(kept) == (_WORK,)


def test_a_recipe_stored_with_the_former_word_for_filling_is_read(piece: int):
    filled = Weigh(tool="fill", joint="l_knee", region="l_knee")
    with transaction() as c:
        store.change_recipe(c, piece, Recipe(steps=(Receive(), Bind(), filled)), "Fill", "Wrenna", None)
        c.execute("update edit set recipe = replace(recipe::text, '\"fill\"', '\"flood\"')::jsonb")
        c.execute("delete from migration where name = '020_fill.sql'")
    assert migrate() == ["020_fill.sql"]
    with transaction() as c:
        assert store.get_piece(c, piece).recipe.steps[-1] == filled


def test_migrating_again_changes_nothing():
    assert migrate() == []


def test_known_cells_are_taken_over_by_a_new_trial(piece: int):
    clean = Figures(clearance_mm=4.0, area_cm2=0.0, places=0, holds=True, pairs=())
    with transaction() as c:
        production = store.get_piece(c, piece).production
        wearer = add_wearer(c, production, "Ibbet", {}, "Wrenna")
        cells = [trials.NewCell(wearer, "sit", "k" * 64)]
        first, missing = trials.add_trial(c, production, {"": [("Cap", "g")]}, cells)
        assert missing == [(wearer, "sit")]
        trials.finish_cell(c, first, wearer, "sit", clean, b"picture")
        second, missing = trials.add_trial(c, production, {"": [("Cap", "g")]}, cells)
        assert missing == []
        assert trials.get_trial(c, second).state == "done"
        assert [cell.figures for cell in trials.cells_of(c, second)] == [clean]
        assert trials.get_trial(c, first).outfit == {"": [("Cap", "g")]}


@pytest.mark.parametrize("what", ["sheet", "hunt", "wearing"])
def test_the_last_two_of_a_run_that_end_side_by_side_close_it(piece: int, what: str):
    with transaction() as c:
        production = store.get_piece(c, piece).production
        one, two = (add_wearer(c, production, name, {}, "Wrenna") for name in ("Ibbet", "Old Moss"))
        if what == "sheet":
            made, _ = trials.add_trial(c, production, {}, [trials.NewCell(one, "sit", "k" * 64), trials.NewCell(two, "sit", "l" * 64)])
        elif what == "hunt":
            parts = [hunts.Hunted(name=str(w), wearer=w, body=None, shape={}) for w in (one, two)]
            made = hunts.add_hunt(c, production, {}, 1, 0.5, parts, 1)
        else:
            made = wear.begin_run(c, production, [(piece, one), (piece, two)])

    def end(connection: Connection, place: int) -> None:
        if what == "sheet":
            trials.fail_cell(connection, made, (one, two)[place], "sit", "it was not to be")
        elif what == "hunt":
            hunts.set_done(connection, made, place, 1)
        else:
            wear.end_row(connection, wear.WaitingRow(run=made, piece=piece, wearer=(one, two)[place]), "done", None, None, "")

    def other() -> None:
        with transaction() as c:
            end(c, 1)

    with ThreadPoolExecutor(1) as beside:
        with transaction() as c:
            end(c, 0)
            second = beside.submit(other)
            time.sleep(0.3)  # it ends, or waits, while the first is not committed
        second.result()
    with transaction() as c:
        found = {"sheet": trials.get_trial, "hunt": hunts.get_hunt, "wearing": wear.get_run}[what](c, made)
    assert found.state == "done"


def test_a_model_is_stored_once_with_its_textures_and_comes_back_whole():
    skeleton = Skeleton(("hip", "knee"), np.array([-1, 0], np.int32), np.array([[0, 1, 0], [0, 0.5, 0]]))
    skin = Skin(np.array([[0, 1, 0, 0]] * 3, np.int32), np.array([[0.25, 0.75, 0, 0]] * 3, np.float32))
    turns = np.tile([0.0, 0.0, 0.6, 0.8], (4, 2, 1))
    clip = Motion("bow", skeleton.names, skeleton.parents, np.array([[0, 1, 0], [0, -0.5, 0]]), turns, np.zeros((4, 3)), 0.04)
    mesh = replace(_mesh(), materials=(Material("felt", (0.1, 0.2, 0.3), colour_map="felt.png"),))
    model = Model(mesh, skeleton, skin, ("wide",), np.ones((1, 3, 3), np.float32), (clip,), (Texture("felt.png", b"picture", "image/png"),),
                  ("cap", "plume"), np.array([1], np.int32))
    with transaction() as c:
        sha = put_model(c, model)
        assert put_model(c, model) == sha
        back = get_model(c, sha)
    assert back.skeleton is not None
    assert back.skin is not None
    assert (back.skeleton.names, back.morphs, back.objects) == (skeleton.names, model.morphs, model.objects)
    assert np.array_equal(back.skin.weights, skin.weights)
    assert back.textures == model.textures
    assert back.mesh.materials == model.mesh.materials
    assert np.allclose(back.clips[0].rotations, turns)
    assert back.triangle_object.tolist() == [1]
