"""What is told of a job that failed: no artist must wait for one for ever."""

import structlog

from ..core.errors import HeronError

log = structlog.get_logger()


def explain(error: Exception, doing: str, **of: object) -> str:
    """Return what to tell the artist of an error; one that is not of the house is logged whole, with what was being done of what."""
    if not isinstance(error, HeronError):
        log.exception(f"{doing} failed", **of)
    return str(error)[:300] or type(error).__name__
