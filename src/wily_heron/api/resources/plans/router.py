"""Plans that clear the sheet: asked for, carried out, taken back, put aside."""

from fastapi import APIRouter

from ....store.sheet.plans import PlannedFor
from ....studio.plan import carrying_out
from ...deps import AtDesk, ProductionId
from .schemas import PlanIn, PlanOut

router = APIRouter(prefix="/api/plans", tags=["clear"])


@router.post("", status_code=201)
def plan(desk: AtDesk, request: PlanIn | None = None) -> PlanOut:
    """Plan what clears the sheet, or the outfit in one cell of it, as a job: nothing is changed until the plan is carried out."""
    return PlanOut.of(carrying_out.begin(desk, PlannedFor(wearer=request.wearer, pose=request.pose) if request else None))


@router.get("/latest")
def latest_plan(production: ProductionId) -> PlanOut | None:
    """Return the newest plan, if there is one."""
    found = carrying_out.latest(production)
    return PlanOut.of(found) if found else None


@router.post("/{plan}/carry-out")
def carry_out(desk: AtDesk, plan: int) -> PlanOut:
    """Carry a plan out: each piece gains its alterations as one edit, already computed."""
    return PlanOut.of(carrying_out.carry_out(desk, plan))


@router.post("/{plan}/undo")
def undo_plan(plan: int) -> PlanOut:
    """Take a plan back, all of it in one step; refused if a piece has been changed since."""
    return PlanOut.of(carrying_out.undo(plan))


@router.delete("/{plan}")
def drop_plan(plan: int) -> PlanOut:
    """Stop planning, or put a plan aside."""
    return PlanOut.of(carrying_out.drop(plan))
