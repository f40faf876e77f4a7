"""What a call of the command line gives."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Called:
    """What a call of the command line gave."""

    code: int
    out: str
    err: str
