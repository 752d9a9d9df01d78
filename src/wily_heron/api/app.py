"""The application: routers, problems, and the built web part."""

import asyncio
import gc
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from fastapi import FastAPI, Request, Response

from ..core.memo import MemoSize, memo_sizes
from ..formats.obj.obj import MAX_BYTES
from ..jobs import tasks
from ..jobs.queue import resume
from ..shipped import web_part
from .pages import Pages
from .problems import add_problem_handlers, too_large
from .resources.events.router import listen_for_ever
from .routers import ROUTERS

__all__ = ["app", "make_app", "tasks"]


@asynccontextmanager
async def _lifespan(_: FastAPI) -> AsyncIterator[None]:
    await asyncio.to_thread(resume)
    listener = asyncio.create_task(listen_for_ever())
    gc.freeze()  # what is there from now on, the libraries, need not be gone through each time an answer is cleared away
    yield
    listener.cancel()


def make_app() -> FastAPI:
    """Return the application; the web part is served if it has been built."""
    app = FastAPI(title="Wily Heron", version="0.1.0", lifespan=_lifespan)
    add_problem_handlers(app)
    for router in ROUTERS:
        app.include_router(router)

    @app.middleware("http")
    async def same_origin(request: Request, call_next) -> Response:
        """Refuse changes asked for by another site's page, and bodies declared larger than a piece may be."""
        origin = request.headers.get("origin")
        if request.method not in ("GET", "HEAD") and origin and origin.split("//")[-1] != request.headers.get("host"):
            return Response("This page is not Wily Heron's own.", 403)
        size = request.headers.get("content-length", "0")
        if size.isdigit() and int(size) > MAX_BYTES + 2**20:
            return too_large(int(size))
        return await call_next(request)

    @app.get("/api/health")
    def health() -> dict[str, bool]:
        return {"ready": True}

    @app.get("/api/memory")
    def memory() -> list[MemoSize]:
        """Return how full each memo of the server is."""
        return memo_sizes()

    if web_part().is_dir():
        app.mount("/", Pages(directory=web_part(), html=True), name="web")
    return app


app = make_app()
