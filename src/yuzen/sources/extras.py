"""What is not installed by itself, and how to get it."""

from collections.abc import Iterator
from contextlib import contextmanager
from importlib.util import find_spec

from yuzen.errors import make_error


@contextmanager
def extra(name: str, what: str) -> Iterator[None]:
    """Say how to install a package whose import fails. Raises YuzenError (data-extra)."""
    try:
        yield
    except ImportError:
        message = f'To read {what}, install what reads them: pip install "yuzen[{name}]".'
        raise make_error("data-extra", message) from None


@contextmanager
def needed_for(name: str, what: str) -> Iterator[None]:
    """Like `extra`, of packages that do not read. Raises YuzenError (data-extra)."""
    try:
        yield
    except ImportError:
        message = f'For {what}, install its packages: pip install "yuzen[{name}]".'
        raise make_error("data-extra", message) from None


def is_installed(*packages: str) -> bool:
    """Whether all of these packages are there, without loading one."""
    return all(find_spec(name) is not None for name in packages)
