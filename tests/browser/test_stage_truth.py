"""The stage's own code, run in Node on the server's frames, puts every vertex where the core does."""

import json
import subprocess
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from wily_heron.core.bench.evaluate import run_step
from wily_heron.core.clear.pose_fix import with_fix, with_yielding
from wily_heron.core.figure.base.body import shaped
from wily_heron.core.figure.base.skinning import skin_points
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.figure import figure
from wily_heron.core.model.steps.bind import Bind, SpringOf
from wily_heron.core.model.steps.follow import Follow
from wily_heron.core.model.worn import dressed_skin, worn_points
from wily_heron.core.motion.pose import pose_matrices, posed_body
from wily_heron.core.motion.pose_library import POSES

SCRIPT = Path(__file__).with_name("stage_check.mjs")


def _drawn(piece, who: str, pose: str, tmp_path: Path) -> dict:
    from wily_heron.store.blobs.arrays import piece_bytes
    from wily_heron.store.db import put_blob, transaction
    from wily_heron.studio.productions.figure import figure_frame
    from wily_heron.studio.rail.geometry import piece_frame

    with transaction() as c:
        sha = put_blob(c, piece_bytes(piece), "piece")
    (tmp_path / "figure").write_bytes(figure_frame(1, None))
    (tmp_path / "piece").write_bytes(piece_frame(sha))
    case = {"figure": str(tmp_path / "figure"), "piece": str(tmp_path / "piece"), "shape": CAST[who],
            "rotations": {j: q.tolist() for j, q in POSES[pose].rotations.items()}}
    done = subprocess.run(["node", str(SCRIPT)], input=json.dumps(case), capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr[-800:]
    return json.loads(done.stdout)


@pytest.mark.parametrize(("who", "pose"), [("Corvane", "kneel"), ("Old Moss", "reach-up"), ("Ibbet", "sit")])
def test_the_stage_draws_what_the_core_computes(database: str, coat, tmp_path: Path, who: str, pose: str):
    drawn = _drawn(coat, who, pose, tmp_path)
    wearer = shaped(figure(1), CAST[who])
    body = posed_body(wearer, POSES[pose])
    piece = worn_points(coat, wearer, POSES[pose])
    # level 1 and 2 may rest on different floor vertices, so both sides use level 1 here
    assert np.abs(np.array(drawn["body"])[: len(body)] - body).max() < 1e-4
    assert np.abs(np.array(drawn["piece"]) - piece).max() < 1e-4


def _lantern(coat, ibbet):
    """The coat as a prop on two links of a spring below the left hand, lengthened to a rod: only its weights matter here."""
    step = Bind(source="joint", joint="l_radiocarpal", spring=SpringOf(links=2, stiffness=6.0))
    return run_step(run_step(replace(coat, deltas=None, skin=None, riders=None, correctives=(), fixes=None), ibbet, step), ibbet, Follow())


def _fixed(coat, ibbet):
    move = np.zeros_like(coat.mesh.points)
    move[coat.mesh.points[:, 1] < 0.9] = [0.0, 0.0, 0.03]
    return with_fix(with_fix(coat, ibbet.body, POSES["kneel"], move, "Kneel"), ibbet.body, POSES["sit"], -move, "Sit")


def _fixed_alone(coat, ibbet):
    """One that follows no shape, only the pose."""
    return _fixed(replace(coat, deltas=None, correctives=(), fixes=None, examples=None), ibbet)


@pytest.mark.parametrize(
    ("make", "pose"),
    [(_fixed_alone, "kneel"), (_lantern, "row-catch"), (_fixed, "kneel"), (_fixed, "stride"), (_lantern, "kneel")],
)
def test_own_joints_springs_and_correctives_are_drawn_as_computed(database: str, coat, ibbet, tmp_path: Path, make, pose: str):
    piece = make(coat, ibbet)
    drawn = _drawn(piece, "Old Moss", pose, tmp_path)
    wearer = shaped(figure(1), CAST["Old Moss"])
    here = worn_points(piece, wearer, POSES[pose])
    assert np.abs(np.array(drawn["piece"]) - here).max() < 1e-4
    assert np.linalg.norm(here - worn_points(coat, wearer, POSES[pose]), axis=1).max() > (0.02 if pose in ("kneel", "row-catch") else 0.0)


def test_skin_that_gives_way_is_drawn_as_computed(database: str, coat, ibbet, tmp_path: Path):
    move = np.zeros((len(figure(1).base), 3))
    move[(figure(1).base[:, 1] > 0.9) & (figure(1).base[:, 1] < 1.2)] = [0.0, 0.0, -0.012]
    piece = with_yielding(with_yielding(coat, figure(1), POSES["kneel"], move), figure(1), None, 0.5 * move)
    for pose, most in (("kneel", 0.018), ("stand", 0.006)):
        drawn = np.array(_drawn(piece, "Corvane", pose, tmp_path)["body"])
        wearer = shaped(figure(1), CAST["Corvane"])
        bare = posed_body(wearer, POSES[pose])
        here = skin_points(dressed_skin([piece], wearer, POSES[pose]), wearer.body.skin, pose_matrices(wearer, POSES[pose]))
        assert np.abs(drawn[: len(here)] - here).max() < 1e-4
        assert np.linalg.norm(here - bare, axis=1).max() == pytest.approx(most, rel=0.4)
