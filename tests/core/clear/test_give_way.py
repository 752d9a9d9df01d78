"""The skin gives way under what is worn: judged by a second method, felt nowhere else, kept for the pose it was made in."""

from dataclasses import replace

import numpy as np
import pytest

from bench.clearing import bodies, dressed_in
from bench.judge import Judge, _deepest
from bench.wardrobe import wearers
from wily_heron.core.clear.give_way import DEEP, DEEPEST
from wily_heron.core.clear.layers import Layers
from wily_heron.core.clear.outfit.clear_outfit import _Step, clear_outfit
from wily_heron.core.clear.outfit.outfit_ways import CellContext, Measurement, _tucked
from wily_heron.core.clear.pose_fix import clear_skin
from wily_heron.core.clearance.cell import Dressed
from wily_heron.core.clearance.cover.key import SKIN, Key
from wily_heron.core.clearance.find.incremental import Recalls
from wily_heron.core.explain.remedies import Trying
from wily_heron.core.figure.base.body import Wearer
from wily_heron.core.mesh.edges import unique_edges
from wily_heron.core.model.correctives import Corrective
from wily_heron.core.model.state import Piece
from wily_heron.core.model.worn import dressed_skin, worn_points
from wily_heron.core.model.yields import with_yield
from wily_heron.core.motion.pose import Pose
from wily_heron.core.motion.pose_library import POSES
from wily_heron.core.motion.random_poses import random_poses
from wily_heron.core.space.tree import TriangleTree
from wily_heron.store.blobs.arrays import bytes_piece, piece_bytes

HEAVY = wearers()["heavy"]
KNEEL = POSES["kneel"]


@pytest.fixture(scope="module")
def suit() -> Piece:
    return dressed_in(("suit",), HEAVY)["suit"]


def judged(pieces: dict[str, Piece], pose: Pose, wearer: Wearer = HEAVY) -> float:
    judge = Judge(Dressed(wearer, pieces), 7)
    return judge.judge(judge.posed(pose, list(pieces.values())))[0]


@pytest.mark.slow("core/clear", "core/clearance")
def test_the_skin_gives_way_and_the_piece_stays_as_it_is(suit: Piece):
    before = judged({"suit": suit}, KNEEL)
    made, (report,) = clear_skin(suit, HEAVY.body, [(HEAVY.shape, KNEEL)])
    assert before > 3.0
    assert judged({"suit": made}, KNEEL) < 0.3 * before
    assert report.after.area_cm2 <= 0.1
    assert np.array_equal(made.mesh.points, suit.mesh.points)
    assert made.fixes is suit.fixes
    assert 0.0 < report.greatest_move <= DEEP + 1e-6
    bare = ~Dressed(HEAVY, {"suit": suit}).covers[Key(0, SKIN)].covered
    moved = np.linalg.norm(dressed_skin([made], HEAVY, KNEEL) - dressed_skin([], HEAVY, KNEEL), axis=1)
    assert moved[bare].max() == 0.0


def test_it_gives_way_in_its_pose_alone_or_always_as_asked(suit: Piece):
    move = lambda p, pose: float(np.abs(dressed_skin([p], HEAVY, pose) - dressed_skin([], HEAVY, pose)).max())  # noqa: E731
    posed, _ = clear_skin(suit, HEAVY.body, [(HEAVY.shape, KNEEL)])
    always, _ = clear_skin(suit, HEAVY.body, [(HEAVY.shape, KNEEL)], always=True)
    assert move(posed, KNEEL) > 0.001
    assert move(posed, POSES["rest"]) == 0.0
    assert move(posed, POSES["reach-up"]) < 0.2 * move(posed, KNEEL)
    assert move(always, POSES["rest"]) == pytest.approx(move(always, KNEEL), abs=1e-6)


def test_it_is_stored_and_adds_up(suit: Piece):
    made, _ = clear_skin(suit, HEAVY.body, [(HEAVY.shape, KNEEL)])
    back = bytes_piece(piece_bytes(made))
    assert np.array_equal(dressed_skin([back], HEAVY, KNEEL), dressed_skin([made], HEAVY, KNEEL))
    one, two = np.zeros((9, 3)), np.zeros((9, 3))
    one[2], two[[2, 5]] = [0.0, 0.0, 0.001], [0.0, 0.002, 0.0]
    both = with_yield(with_yield(with_yield(None, Corrective("a"), one), Corrective("b", (), "sit"), two), Corrective("c"), two)
    assert [c.name for c in both.correctives] == ["a", "b"]  # what is always there is one
    assert np.allclose(both.whole(np.array([1.0, 0.5]), 9), one + 1.5 * two)
    assert both.whole(np.array([1.0, 0.5]), 4).shape == (4, 3)


def test_a_piece_with_others_between_it_and_the_skin_is_refused_with_the_reason(suit: Piece):
    coat = replace(suit, mesh=suit.mesh.moved(suit.mesh.points * 0.98))
    _, (report,) = clear_skin(coat, HEAVY.body, [(HEAVY.shape, KNEEL)], Layers(under=(suit,)))
    assert not report.moved


def test_it_is_among_the_remedies_of_a_cell(suit: Piece):
    from wily_heron.core.explain.failing_pair import Case

    tried = [r for r in Trying(Case({"suit": suit}, HEAVY.body, HEAVY.shape, KNEEL, Key(0, SKIN)), 0.004).tuck() if r.do["way"] == "skin"]
    assert len(tried) == 1
    assert tried[0].holds
    assert (tried[0].edges, tried[0].folds) == (0.0, 0.0)


@pytest.mark.parametrize("kinds", [("cap of hair", "hood"), ("suit",)])
@pytest.mark.slow("core/clearance", "core/clear")
def test_an_outfit_gives_way_where_easing_out_leaves_something(kinds: tuple[str, ...]):
    pieces = dressed_in(kinds, HEAVY)
    poses = [KNEEL, *random_poses(2, 4711, 0.5)]
    before = after = 0.0
    for pose in poses:
        worn, _ = clear_outfit(pieces, HEAVY.body, HEAVY.shape, pose, 0.004)
        before, after = before + judged(pieces, pose), after + judged(worn, pose)
    assert before > 3.0
    assert after < 0.05 * before


@pytest.mark.slow("core/clearance", "core/clear")
def test_an_outfit_is_cleared_without_a_piece_going_through_itself_for_it():
    pieces, pose = dressed_in(("shirt", "coat"), HEAVY), POSES["hands-on-hips"]
    worn, _ = clear_outfit(pieces, HEAVY.body, HEAVY.shape, pose, 0.004)
    assert judged(pieces, pose) > 30.0
    assert judged(worn, pose) < 0.3
    for name, piece in pieces.items():
        before, after = (folded(p, pose) for p in (piece, worn[name]))
        assert after <= before
    skin = [Dressed(HEAVY, p).measure(pose).body_points for p in (pieces, worn)]
    assert np.linalg.norm(skin[1] - skin[0], axis=1).max() <= DEEPEST + 1e-6


@pytest.mark.slow("core/clear", "core/clearance")
@pytest.mark.parametrize("body", ["stout", "neutral"])
def test_what_giving_way_leaves_is_eased_out_more_thoroughly_or_gives_way_from_the_start_and_not_through_itself(body: str):
    wearer, pose = bodies()[body], POSES["crouch"]
    pieces = dressed_in(("trousers",), wearer)
    worn, _ = clear_outfit(pieces, wearer.body, wearer.shape, pose, 0.004)
    assert judged(pieces, pose, wearer) > 5.0
    assert judged(worn, pose, wearer) <= 0.1
    assert folded(worn["trousers"], pose, wearer) <= folded(pieces["trousers"], pose, wearer)


@pytest.mark.slow("core/clearance", "core/clear")
def test_layers_give_way_before_what_is_worn_over_them_is_let_out():
    pieces, pose = dressed_in(("shirt", "coat"), HEAVY), POSES["run"]
    worn, changed = clear_outfit(pieces, HEAVY.body, HEAVY.shape, pose, 0.004)
    assert judged(pieces, pose) > 3.0
    assert judged(worn, pose) < 0.1
    assert changed == ["shirt"]  # and the coat's outline is what it was


@pytest.mark.slow("core/clearance", "core/clear")
def test_layers_that_end_in_a_fold_by_one_ease_pass_it_by_another_and_clearing_stops_where_it_is_told_to():
    wearer, pose, calls = bodies()["heavy"], POSES["reach-up"], []
    pieces = dressed_in(("suit", "shirt", "tabard", "robe"), wearer)
    worn, _ = clear_outfit(pieces, wearer.body, wearer.shape, pose, 0.004, lambda: calls.append(1))
    assert judged(pieces, pose, wearer) > 5.0
    assert judged(worn, pose, wearer) <= 0.1

    def stop() -> None:
        calls.pop()
        if not calls:
            raise InterruptedError

    del calls[3:]
    with pytest.raises(InterruptedError):
        clear_outfit(pieces, wearer.body, wearer.shape, pose, 0.004, stop)


@pytest.mark.parametrize(("shown", "kept"), [((0.08, 0.07), 0), ((0.08, 0.055), 1), ((0.3, 0.28), 1)])
def test_an_outfit_that_holds_is_moved_again_only_for_what_is_worth_it(shown: tuple[float, ...], kept: int,
                                                                        monkeypatch: pytest.MonkeyPatch):
    pieces = dressed_in(("coarse shirt",), HEAVY)
    made, left = [{n: replace(p, mesh=p.mesh.moved(p.mesh.points)) for n, p in pieces.items()} for _ in shown], iter(shown)

    def stepped(here: CellContext, _: object, worn: dict[str, Piece], __: object, known: Measurement | None, *___: object) -> _Step:
        area = next(left, None)
        if area is None:
            return _Step(worn, set(), set(), known)
        dressed, cell = here.measured(pieces)
        cell = replace(cell, figures=cell.figures.model_copy(update={"area_cm2": area, "holds": area <= 0.1}))
        return _Step(made[shown.index(area)], set(pieces), set(), (dressed, cell))

    monkeypatch.setattr("wily_heron.core.clear.outfit.clear_outfit._stepped", stepped)
    worn, _ = clear_outfit(pieces, HEAVY.body, HEAVY.shape, KNEEL, 0.004)
    assert next(left, None) is None
    assert all(worn[n].mesh is made[kept][n].mesh for n in pieces)


def test_what_is_known_of_the_cell_changes_nothing_of_how_layers_give_way():
    pieces, pose = dressed_in(("shirt", "coat"), HEAVY), POSES["run"]
    told = []
    for known in (True, False):
        here = CellContext(HEAVY.body, HEAVY.shape, pose, 0.004, Recalls())
        told.append(_tucked(here, pieces, 2, here.measured(pieces) if known else None, False))
    (worn, moved), (other, too) = told
    assert moved == too == {"shirt"}
    assert all(np.array_equal(worn_points(worn[n], HEAVY, pose), worn_points(other[n], HEAVY, pose)) for n in pieces)
    skin = [Dressed(HEAVY, p).measure(pose).body_points for p in (worn, other)]
    assert np.array_equal(*skin)


def folded(piece: Piece, pose: Pose, wearer: Wearer = HEAVY) -> int:
    """The faces of a posed piece that go through others of it."""
    tree = TriangleTree(worn_points(piece, wearer, pose), piece.mesh.triangles)
    return int(tree.pierced(unique_edges(piece.mesh.triangles)[0]).sum())


def test_the_judge_tells_how_far_cloth_lies_however_it_leans():
    for lean in np.radians([0.0, 30.0, 60.0, 70.0]):
        turn = np.array([[np.cos(lean), -np.sin(lean), 0], [np.sin(lean), np.cos(lean), 0], [0, 0, 1]])
        flat = np.array([[-1, 0, -1], [1, 0, -1], [1, 0, 1], [-1, 0, 1]]) @ turn.T
        cloth = TriangleTree(flat, np.array([[0, 2, 1], [0, 3, 2]], np.int32))
        x, up = 0.01 * turn[:, 1][None], np.array([[0.0, 1.0, 0.0]])
        straight, _ = cloth.first_hits(x, -up, 0.04)
        assert straight[0] == pytest.approx(0.01 / np.cos(lean))
        assert 0.01 <= _deepest(x, up, straight, cloth) < 0.0125
