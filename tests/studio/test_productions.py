"""Cast, poses, motions and shots, without HTTP and without a queue."""

import numpy as np
import pytest

from tests.studio.conftest import Jobs
from wily_heron.core.clearance.find.shots import Shot
from wily_heron.core.errors import InputError, NotFound
from wily_heron.core.motion.pose_library import POSES
from wily_heron.studio.desk import Desk

FRONT = Shot(name="Jetty", eye=(0.0, 1.4, 4.0), target=(0.0, 1.0, 0.0), lens=0.6)


def test_a_wearers_shapes_are_a_history_that_ends_at_both_ends(desk: Desk):
    from wily_heron.studio.productions import cast

    made = cast.add(desk, "Corvane", {"girth": 0.1}, None)
    assert (made.can_undo, made.can_redo) == (False, False)
    cast.set_shape(desk, made.id, {"girth": 0.4})
    cast.set_shape(desk, made.id, {"girth": 0.4})  # the shape it has already is no edit
    last = cast.set_shape(desk, made.id, {"girth": 0.8})
    assert (last.can_undo, last.can_redo) == (True, False)
    assert cast.step(made.id, "undo").shape == {"girth": 0.4}
    first = cast.step(made.id, "undo")
    assert (first.shape, first.can_undo, first.can_redo) == ({"girth": 0.1}, False, True)
    with pytest.raises(InputError, match="nothing to undo"):
        cast.step(made.id, "undo")
    assert cast.step(made.id, "redo").shape == {"girth": 0.4}
    cast.set_shape(desk, made.id, {"belly": 0.3})  # another way from here
    with pytest.raises(InputError, match="nothing to redo"):
        cast.step(made.id, "redo")


def test_a_name_is_given_once_a_shape_must_be_the_bodys_and_the_last_wearer_stays(desk: Desk):
    from wily_heron.studio.productions import cast
    from wily_heron.studio.productions.overview import overview

    with pytest.raises(InputError, match="already a wearer"):
        cast.add(desk, "Ibbet", {}, None)
    with pytest.raises(InputError):
        cast.add(desk, "Corvane", {"wingspan": 1.0}, None)
    first, second = overview().cast
    with pytest.raises(InputError):
        cast.set_shape(desk, first.id, {"wingspan": 1.0})
    cast.drop(desk, second.id)
    with pytest.raises(InputError, match="last of the cast"):
        cast.drop(desk, first.id)
    for gone in (lambda: cast.drop(desk, second.id), lambda: cast.set_shape(desk, second.id, {}), lambda: cast.step(second.id, "undo")):
        with pytest.raises(NotFound):
            gone()


def test_a_pose_made_by_hand_stands_on_the_axis_and_in_stock_once(desk: Desk, jobs: Jobs):
    from wily_heron.store.stock.items import Query
    from wily_heron.studio.productions import poses
    from wily_heron.studio.productions.overview import overview
    from wily_heron.studio.stock import keeping

    turns = {joint: tuple(float(x) for x in q) for joint, q in POSES["stride"].rotations.items()}
    made = poses.keep(desk, "Hailing the ferry", turns)
    assert jobs.names() == ["draw_strip"]
    again = poses.keep(desk, "Hailing the ferry", turns)
    assert again.name == made.name
    assert jobs.names() == ["draw_strip"]  # it is in stock already
    assert [p.name for p in overview().poses] == ["stand", "kneel", made.name]
    assert keeping.search(Query(kind="pose"), None).total == 1
    back = poses.pose_named(made.name)
    assert {j: q.tolist() for j, q in back.rotations.items()} == {j: pytest.approx(q, abs=1e-6) for j, q in turns.items()}
    with pytest.raises(InputError, match="axis first"):
        poses.forget(desk.production, made.name)
    poses.take_off_axis(desk.production, made.name)
    assert made.name in {p.name for p in poses.library(desk.production)}
    poses.forget(desk.production, made.name)
    assert made.name not in {p.name for p in poses.library(desk.production)}
    with pytest.raises(NotFound):
        poses.forget(desk.production, made.name)


def test_the_axis_never_loses_its_last_pose(desk: Desk):
    from wily_heron.studio.productions import poses

    poses.take_off_axis(desk.production, "stand")
    with pytest.raises(InputError, match="last pose"):
        poses.take_off_axis(desk.production, "kneel")
    with pytest.raises(NotFound):
        poses.take_off_axis(desk.production, "stand")
    with pytest.raises(InputError):
        poses.put_on_axis(desk.production, "levitate")
    assert poses.put_on_axis(desk.production, "stand").label == POSES["stand"].label


def test_a_motion_stands_on_the_sheet_until_it_is_taken_off(desk: Desk):
    from wily_heron.studio.productions import poses

    assert [name for name, _, _ in poses.put_on_sheet(desk.production, "walk", True)] == ["walk"]
    assert [name for name, _, _ in poses.put_on_sheet(desk.production, "walk", True)] == ["walk"]
    assert poses.put_on_sheet(desk.production, "walk", False) == []
    with pytest.raises(NotFound):
        poses.put_on_sheet(desk.production, "gallop", True)


def test_a_motion_in_stock_plays_as_the_shipped_one_it_was_written_from(desk: Desk):
    from wily_heron.core.figure.figure import figure
    from wily_heron.core.motion.clips import clip_named
    from wily_heron.formats.bvh import write_bvh
    from wily_heron.store.db import transaction
    from wily_heron.studio.productions import poses
    from wily_heron.studio.stock.taking_in import take_motion

    walk = clip_named("walk", figure(1).skeleton)
    with transaction() as c:
        item = take_motion(c, write_bvh(walk), "night-round.bvh", "tests")
    assert poses.motions()[-1][:2] == (f"stock-{item}", "Night round")
    played = poses.motion_named(f"stock-{item}")
    at = {name: k for k, name in enumerate(played.names)}
    shared = [name for name in walk.names if name in at]
    ours = walk.rotations[:, [walk.names.index(name) for name in shared]]
    theirs = played.rotations[:, [at[name] for name in shared]]
    angle = 2 * np.arccos(np.clip(np.abs((ours * theirs).sum(axis=2)), -1.0, 1.0))
    assert np.rad2deg(angle).max() < 1.0
    for missing in ("stock-999999", "stock-", "gallop"):
        with pytest.raises(InputError):
            poses.motion_named(missing)


def test_shots_have_names_of_their_own_and_show_the_cells_they_are_for(desk: Desk):
    from wily_heron.store.productions.shots import shots_in, shots_key
    from wily_heron.studio.productions import shots
    from wily_heron.studio.productions.overview import overview

    wearer = overview().cast[0].id
    shots.keep(desk, [FRONT, FRONT])
    kept = shots.keep(desk, [FRONT.model_copy(update={"name": "Stern"})], wearer, "kneel")
    assert [s.shot.name for s in kept] == ["Jetty", "Jetty 2", "Stern"]
    assert [s.name for s in shots_in(kept, wearer, "kneel") or ()] == ["Jetty", "Jetty 2", "Stern"]
    assert [s.name for s in shots_in(kept, wearer, "stand") or ()] == ["Jetty", "Jetty 2"]
    assert shots_key(kept, wearer, "kneel") != shots_key(kept, wearer, "stand") == shots_key(kept, wearer + 1, "stand")
    assert shots_in([], wearer, "stand") is None
    with pytest.raises(InputError, match="already a shot"):
        shots.change(desk.production, kept[1].id, FRONT, None, None)
    with pytest.raises(InputError, match="not of the cast"):
        shots.keep(desk, [FRONT], wearer=10**6)
    assert [s.shot.name for s in shots.drop(desk.production, kept[0].id)] == ["Jetty 2", "Stern"]
    assert [s.shot.name for s in shots.drop(desk.production, kept[0].id, dropped=False)] == ["Jetty", "Jetty 2", "Stern"]
    with pytest.raises(NotFound):
        shots.drop(desk.production, 10**6)


def test_a_picture_of_a_wearer_is_drawn_of_the_shape_and_pose_asked_for(desk: Desk):
    import io

    from PIL import Image

    from wily_heron.studio.productions import cast, pictures
    from wily_heron.studio.productions.overview import overview

    def drawn(wearer: int, pose: str) -> int:
        alpha = np.asarray(Image.open(io.BytesIO(pictures.wearer_picture(wearer, pose))).convert("RGBA"))[:, :, 3]
        return int((alpha > 128).sum())

    wearer = overview().cast[0].id
    thin = drawn(wearer, "stand")
    cast.set_shape(desk, wearer, {"girth": 1.0, "belly": 1.0})
    assert drawn(wearer, "stand") > 1.1 * thin
    assert pictures.wearer_picture(wearer, "stand") != pictures.wearer_picture(wearer, "kneel")
    with pytest.raises(NotFound):
        pictures.wearer_picture(10**6, "stand")


def test_a_change_that_fails_is_heard_by_nobody_and_one_that_is_kept_is_heard_as_what_it_is(desk: Desk, database: str):
    import psycopg

    from wily_heron.store.events import Event
    from wily_heron.studio.productions import cast

    with psycopg.connect(database, autocommit=True) as listener:
        listener.execute("listen wily_heron")
        with pytest.raises(InputError):
            cast.add(desk, "Ibbet", {}, None)
        made = cast.add(desk, "Corvane", {}, None)
        cast.set_shape(desk, made.id, {"girth": 0.3})
        heard = [Event.model_validate_json(n.payload).what for n in listener.notifies(timeout=1.0, stop_after=2)]
    assert heard == ["cast", "cast"]
