"""What is not installed by itself, and how to get it."""

from collections.abc import Iterator
from contextlib import AbstractContextManager, contextmanager
from importlib.util import find_spec

from yuzen.errors import make_error


def extra(name: str, what: str) -> AbstractContextManager[None]:
    """Say how to install a package whose import fails. Raises YuzenError (data-extra)."""
    return _named(name, f"To read {what}, install what reads them")


def needed_for(name: str, what: str) -> AbstractContextManager[None]:
    """Like `extra`, of packages that do not read. Raises YuzenError (data-extra)."""
    return _named(name, f"For {what}, install its packages")


@contextmanager
def _named(name: str, remedy: str) -> Iterator[None]:
    try:
        yield
    except ImportError:
        raise make_error("data-extra", f'{remedy}: pip install "yuzen[{name}]".') from None


def is_installed(*packages: str) -> bool:
    """Whether all of these packages are there, without loading one."""
    return all(find_spec(name) is not None for name in packages)
