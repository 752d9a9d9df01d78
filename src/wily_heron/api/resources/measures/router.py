"""Body measures: taken on a wearer as it stands on the stage, and solved for."""

from fastapi import APIRouter, Request

from ....core.errors import InputError
from ....core.figure.base.body import shape_values, shaped
from ....core.figure.figure import figure
from ....core.figure.measures.measure_sheet import read_measure_sheet
from ....core.figure.measures.measure_solve import solve_measures
from ....core.figure.measures.measures import take
from ....core.motion.pose import posed_body
from ..cells.schemas import CellIn
from .schemas import MeasureOut, SheetOut, SolvedOut, SolveIn

router = APIRouter(prefix="/api/measures", tags=["measures"])
_MOST_SHEET = 100_000


@router.post("")
def take_measures(cell: CellIn) -> list[MeasureOut]:
    """Return every measure of a wearer (taken in the rest pose) with its tape as it lies in the pose on the stage (metres)."""
    wearer = shaped(figure(), shape_values(figure(), cell.shape))
    points = posed_body(wearer, cell.stance())
    out = []
    for name, taken in take(wearer).items():
        line = taken.tape.on(points)
        if taken.measure.height:  # a height is drawn as a plumb line to the floor
            line = [[*line[0]], [line[0][0], 0.0, line[0][2]]]
        out.append(
            MeasureOut(
                name=name,
                label=taken.measure.label,
                group=taken.measure.group,
                clause=taken.measure.clause,
                value=taken.value,
                line=[[float(x) for x in p] for p in line],
                closed=taken.tape.closed,
            )
        )
    return out


@router.post("/solve")
def solve(ask: SolveIn) -> SolvedOut:
    """Return the shape settings of least effort that meet the measures asked for, and how near each came."""
    if not ask.asked:
        raise InputError(what="no measure is asked for", where="the measures", todo="Write at least one, say a waist girth.")
    solved = solve_measures(figure(), ask.asked, around=ask.around)
    return SolvedOut(shape=solved.shape, reached=solved.reached, met={name: solved.met(name) for name in solved.goals})


@router.post("/sheet")
async def read_sheet(request: Request) -> SheetOut:
    """Return the measures of a CSV sheet sent as text."""
    raw = await request.body()
    if len(raw) > _MOST_SHEET:
        raise InputError(
            what=f"the sheet holds {len(raw)} bytes", where="the measure sheet", todo="Give one wearer's measures, a line each."
        )
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise InputError(what="it is not text", where="the measure sheet", todo="Save it as CSV in UTF-8.") from None
    return SheetOut(asked=read_measure_sheet(text, "the measure sheet"))
