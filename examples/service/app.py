"""A service: a brief and rows as JSON in, a picture as SVG out. Start it with uvicorn app:app."""

import json

from starlette.applications import Starlette
from starlette.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

import yuzen as yz

MAX_BODY_BYTES = 2_000_000
SAFE = {
    "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'",
    "X-Content-Type-Options": "nosniff",
}


async def draw(request: Request) -> Response:
    """Draw what a request asks for; its body is read up to a limit."""
    body = bytearray()
    async for part in request.stream():
        body += part
        if len(body) > MAX_BODY_BYTES:
            return refused(413, "body", f"A body has {MAX_BODY_BYTES:,} bytes at most.")
    # Drawing takes a processor, and the loop answers others meanwhile.
    return await run_in_threadpool(answer, bytes(body))


def answer(body: bytes) -> Response:
    """The picture of a body {"brief": "...", "rows": [...]}, or what is wrong with it."""
    try:
        asked = json.loads(body)
        brief, rows = asked["brief"], asked["rows"]
    except (ValueError, TypeError, LookupError, RecursionError):
        return refused(400, "body", 'The body is JSON: {"brief": "...", "rows": [...]}.')
    # A text would be taken as the path of a file on this machine.
    if not isinstance(rows, list | dict):
        return refused(400, "rows", "rows is a list of records, or a table of columns.")
    try:
        with yz.limits(rows=20_000, marks=2_000, pixels=8_000_000, seconds=10):
            picture = yz.loads(brief, rows).image("svg")
    except yz.YuzenError as error:
        return refused(422, error.code, str(error))
    return Response(picture, media_type="image/svg+xml", headers=SAFE)


def refused(status: int, code: str, message: str) -> Response:
    """What is wrong, as JSON."""
    return JSONResponse({"error": {"code": code, "message": message}}, status, headers=SAFE)


app = Starlette(routes=[Route("/draw", draw, methods=["POST"])])
