"""The stage's own code, run in Node on the server's frames, puts every vertex where the core does."""

import json
import subprocess
from pathlib import Path

import numpy as np
import pytest

from wily_heron.core.figure.body import shaped
from wily_heron.core.figure.cast import CAST
from wily_heron.core.figure.correctives import driven_values
from wily_heron.core.figure.figure import figure
from wily_heron.core.figure.pose import pose_matrices, posed_body
from wily_heron.core.figure.pose_library import POSES
from wily_heron.core.figure.skinning import skin_points

SCRIPT = Path(__file__).with_name("stage_check.mjs")


@pytest.mark.parametrize(("who", "pose"), [("Corvane", "kneel"), ("Old Moss", "reach-up"), ("Ibbet", "sit")])
def test_the_stage_draws_what_the_core_computes(database: str, coat, tmp_path: Path, who: str, pose: str):
    from wily_heron.api.routers.cells import get_figure
    from wily_heron.api.routers.pieces import geometry
    from wily_heron.store.arrays import piece_bytes
    from wily_heron.store.db import put_blob, transaction

    with transaction() as c:
        sha = put_blob(c, piece_bytes(coat), "piece")
    (tmp_path / "figure").write_bytes(get_figure(1).body)
    (tmp_path / "piece").write_bytes(geometry(sha).body)
    case = {"figure": str(tmp_path / "figure"), "piece": str(tmp_path / "piece"), "shape": CAST[who],
            "rotations": {j: q.tolist() for j, q in POSES[pose].rotations.items()}}
    done = subprocess.run(["node", str(SCRIPT)], input=json.dumps(case), capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr[-800:]
    drawn = json.loads(done.stdout)
    wearer = shaped(figure(1), CAST[who])
    matrices = pose_matrices(wearer, POSES[pose])
    body = posed_body(wearer, POSES[pose])
    shape = wearer.shape + driven_values(wearer.body, POSES[pose])
    piece = skin_points(coat.at(shape), coat.skin, matrices)
    # level 1 and 2 may rest on different floor vertices, so both sides use level 1 here
    assert np.abs(np.array(drawn["body"])[: len(body)] - body).max() < 1e-4
    assert np.abs(np.array(drawn["piece"]) - piece).max() < 1e-4
