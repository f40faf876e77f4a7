"""A cluster of Dask that runs already: its workers as an executor."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any, Final

from yuzen.errors import external_call, make_error
from yuzen.sources.extras import extra

if TYPE_CHECKING:
    from concurrent.futures import Executor

SCHEDULER_TIMEOUT_S: Final = 20  # seconds for a scheduler to answer
RETRIES: Final = 2  # times that what a worker took with it is done again by another


@contextmanager
def workers_at(address: str) -> Iterator[Executor]:
    """The workers of the cluster whose scheduler is at an address, such as tcp://host:8786.

    Raises YuzenError (call-cluster) where none answers, or it has no workers.
    """
    with extra("cluster", "charts on a cluster"):
        from distributed import Client  # noqa: PLC0415 - an extra
    dask: Any = Client
    with external_call("call-cluster", f"No cluster answers at {address}: {{reason}}."):
        # Not the default: a notebook may have a client of its own.
        client = dask(address, timeout=SCHEDULER_TIMEOUT_S, set_as_default=False)
    try:
        if not client.scheduler_info()["workers"]:
            raise make_error("call-cluster", f"The cluster at {address} has no workers.")
        yield client.get_executor(retries=RETRIES, pure=False)
    finally:
        client.close()
