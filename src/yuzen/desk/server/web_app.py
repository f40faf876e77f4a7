"""The server of a session: its page, its state, and what the page asks for."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager, suppress
from dataclasses import asdict
from functools import partial
from pathlib import Path
from time import monotonic
from typing import Any, Final

from pydantic import ValidationError
from starlette.applications import Starlette
from starlette.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import FileResponse, JSONResponse, Response, StreamingResponse
from starlette.routing import Route

from yuzen.desk.desk_state import desk_state, fault_values, findings
from yuzen.desk.server.page_requests import CHANGES, QUESTIONS, PageRequest
from yuzen.desk.session import Session
from yuzen.desk.shown.mark_rows import mark_reasons, mark_rows
from yuzen.errors import YuzenError
from yuzen.stage_times import package_logger

FILES: Final = Path(__file__).parent / "page"
TYPES: Final = {".html": "text/html", ".css": "text/css", ".js": "text/javascript"}
LOOK_SECONDS: Final = 1.0  # between two looks at the files of a brief
STEP_SECONDS: Final = 0.1  # after which a page hears of a change
ALIVE_SECONDS: Final = 10.0  # after which a page hears that the server is there
MAX_PAGES: Final = 20  # that follow one session
DEFECT: Final = (
    "Yuzen itself failed here ({reason}). Nothing that you wrote is lost. Undo the last step, and "
    "please report it."
)


class PageCount:
    """Counts the pages that follow a session, and since when there is none.

    is_stopping: whether the server ends, so that no page is answered any longer.
    """

    def __init__(self) -> None:
        self.pages = 0
        self.alone_since = float("inf")  # the first page may take its time
        self.is_stopping = False

    @asynccontextmanager
    async def following(self) -> AsyncIterator[None]:
        """Count one more page."""
        self.pages += 1
        try:
            yield
        finally:
            self.pages -= 1
            self.alone_since = monotonic()

    @property
    def alone_seconds(self) -> float:
        """For how long no page has followed."""
        return 0.0 if self.pages else max(0.0, monotonic() - self.alone_since)


def web_app(session: Session, pages: PageCount) -> Starlette:
    """The application of a session."""
    routes = [
        Route("/", partial(_file, "index.html")),
        *(Route(f"/{path.name}", partial(_file, path.name)) for path in sorted(FILES.iterdir())),
        Route("/state", partial(_get, lambda _: desk_state(session))),
        Route("/findings", partial(_get, lambda _: {"findings": findings(session)})),
        Route("/python", partial(_get, lambda _: {"text": session.python()})),
        Route("/rows", partial(_get, partial(_rows, session))),
        Route("/why", partial(_get, partial(_why, session))),
        Route("/changes", partial(_changes, session, pages)),
        *(_post(f"/{name}", kind, session, changes=True) for name, kind in CHANGES.items()),
        *(_post(f"/{name}", kind, session, changes=False) for name, kind in QUESTIONS.items()),
    ]
    return Starlette(routes=routes, lifespan=partial(_lifespan, session))


def _post(path: str, kind: type[PageRequest], session: Session, *, changes: bool) -> Route:
    """The route of a request; what changes something is answered with the state, too."""

    async def answered(request: Request) -> Response:
        body = await request.body()

        # Everything after this line may take long, and other pages are answered meanwhile.

        def made() -> dict[str, Any]:
            answer = kind.model_validate_json(body or b"{}").run(session)
            return {**answer, "state": desk_state(session)} if changes else answer

        return await _answer(made)

    return Route(path, answered, methods=["POST"])


async def _get(made: Callable[[Request], dict[str, Any]], request: Request) -> Response:
    """The answer to a question that changes nothing."""
    return await _answer(partial(made, request))


async def _answer(made: Callable[[], dict[str, Any]]) -> Response:
    """An answer in JSON, made in a thread; what is wrong is told as faults."""
    try:
        return JSONResponse(await run_in_threadpool(made))
    except YuzenError as error:
        return JSONResponse({"faults": fault_values(error.faults)}, status_code=422)
    except (ValidationError, ValueError):
        return _told(400, "call-page", "The page asked for something that is not understood.")
    except Exception as error:  # noqa: BLE001 - a defect of ours reaches the page as a sentence
        package_logger().exception("the desk failed")
        return _told(500, "call-defect", DEFECT.format(reason=type(error).__name__))


def _told(status: int, code: str, message: str) -> Response:
    fault = {"code": code, "message": message, "where": "", "line": None}
    return JSONResponse({"faults": [fault]}, status_code=status)


def _rows(session: Session, request: Request) -> dict[str, Any]:
    """Some rows of the table of marks: ?which=all&first=100."""
    first = request.query_params.get("first", "0")
    which = request.query_params.get("which", "all")
    with session.lock:
        return asdict(mark_rows(session.stages, which, int(first)))


def _why(session: Session, request: Request) -> dict[str, Any]:
    """The reasons of a mark: ?mark=3."""
    with session.lock:
        return asdict(mark_reasons(session.stages, int(request.query_params.get("mark", "-1"))))


async def _file(name: str, request: Request) -> Response:
    """A file of the page."""
    del request
    path = FILES / name
    return FileResponse(path, media_type=TYPES[path.suffix])


async def _changes(session: Session, pages: PageCount, request: Request) -> Response:
    """A line for each new version, as long as the page is open."""
    del request
    if pages.pages >= MAX_PAGES:
        return _told(429, "call-page", "Too many pages show this brief. Close one of them.")
    return StreamingResponse(_versions(session, pages), media_type="text/event-stream")


async def _versions(session: Session, pages: PageCount) -> AsyncIterator[str]:
    """The number of each version, and a sign of life now and then."""
    seen, quiet = 0, 0.0
    # A browser that closes the page ends the answer, by which it is known to be closed.
    async with pages.following():
        while not pages.is_stopping:
            if session.version != seen:
                seen, quiet = session.version, 0.0
                yield f"data: {seen}\n\n"
            elif quiet >= ALIVE_SECONDS:
                quiet = 0.0
                yield ": still here\n\n"
            await asyncio.sleep(STEP_SECONDS)
            quiet += STEP_SECONDS


@asynccontextmanager
async def _lifespan(session: Session, app: Starlette) -> AsyncIterator[None]:
    """Look at the files of the brief now and then, and keep the work that is not saved."""
    del app

    async def looked() -> None:
        while True:
            await asyncio.sleep(LOOK_SECONDS)
            await run_in_threadpool(session.look_at_files)
            await run_in_threadpool(session.keep)

    looking = asyncio.create_task(looked())
    yield
    looking.cancel()
    with suppress(asyncio.CancelledError):
        await looking
    session.keep()
