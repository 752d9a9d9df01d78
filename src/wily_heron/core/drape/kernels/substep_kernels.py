"""Half a frame, substep by substep, each kernel in its turn: so that none waits for the interpreter."""

from numba import njit

from .contact_kernels import go_on
from .face_kernels import keep_on_side
from .lane_kernels import stretches
from .self_contact_kernels import keep_apart
from .solver_kernels import bends, edges, links, nearly_taut, straps, tethers

_LOOKS, _NEARLY = 5, 0.995
"""Every so many substeps the long links are sought that are longer than that share of what they may be: the others stay slack till then.
Kept to their length in every other substep only, they would set the cloth trembling, and it would slide."""


@njit(cache=True, nogil=True, error_model="numpy")
def substeps(x, p, v, w, halves, way, held, meets, ties, long, drawn, faces, seams, bent, woven, near, sides):
    """Go through substeps on points, points before and velocities (n, 4) of mobility `w` (n,); each tuple is what its kernels take.

    `way`: when it begins, as a share of the frame, how many, what share of the frame each takes, their seconds, and then air, wind, gravity
    and drag; `held` and `meets` (what touches, the body) as in `go_on`; `ties`, `long`, `drawn` the tethers, links and straps; `faces`,
    `seams` (edges that are drawn together) and `bent` (the bends, every how many substeps, and how many have gone) the fabric; `woven`,
    `near` and `sides` what keeps apart: pairs near at rest, pairs that have come near, and vertices that keep to their side of faces.
    """
    first, count, step, dt, air, wind, fall, drag = way
    touch, body = meets
    link_rows, most, split, taut_rows, taut_most, stop = long
    bends_rows, weight, moves, rest, bends_split, every, gone = bent
    woven_ends, woven_apart, woven_split, friction = woven
    near_ends, near_apart, near_split = near
    side_ends, side, side_idle, triangles, across, thickness = sides
    for k in range(count + 1):
        go_on(x, p, v, w, air, wind, fall, drag, held, touch, body, first + k * step, step, dt, k > 0, k < count, halves)
        if k == count:
            break
        tethers(x, w, ties[0], ties[1], ties[2])
        if k % _LOOKS == 0:
            nearly_taut(x, link_rows, most, _NEARLY, split, taut_rows, taut_most, stop)
        links(x, w, taut_rows, taut_most, split, stop)
        straps(x, w, drawn[0], drawn[1])
        stretches(x, faces[0], faces[1], faces[2], faces[3])
        if len(seams[1]):
            edges(x, w, seams[0], seams[1], seams[2], seams[3])
        if (gone + k) % every == 0:
            bends(x, bends_rows, weight, moves, rest, bends_split)
        if len(woven_ends):
            keep_apart(x, p, w, woven_ends, woven_apart, woven_split, friction)
        if len(near_ends):
            keep_apart(x, p, w, near_ends, near_apart, near_split, friction)
        if len(side_ends):
            keep_on_side(x, p, w, side_ends, side, side_idle, triangles, across, thickness, friction)
