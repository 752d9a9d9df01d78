"""The list of jobs: what is done, what waits, what has failed, in all productions."""

from fastapi import APIRouter

from ....jobs.queue import ask
from ....studio import job_list
from .schemas import JobLineOut

router = APIRouter(prefix="/api/jobs", tags=["jobs"])


@router.get("")
def jobs() -> list[JobLineOut]:
    """Return what is done, what waits and what has failed, in this order; jobs that do one thing together are one line."""
    return [JobLineOut.of(line) for line in job_list.lines()]


@router.post("/{job}/stop", status_code=204)
def stop(job: int) -> None:
    """Stop a job, and those that do the same thing with it; what is done of that stays."""
    job_list.stop(job)


@router.post("/{job}/again", status_code=204)
def again(job: int) -> None:
    """Try a job that has failed once more."""
    job_list.again(job, ask)


@router.delete("/{job}", status_code=204)
def dismiss(job: int) -> None:
    """Take a job that has failed off the list."""
    job_list.dismiss(job)
