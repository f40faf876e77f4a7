"""The codes of errors and of findings: what each means, and what to do."""

import tomllib
from functools import cache
from pathlib import Path
from typing import Final

from yuzen.errors import suggestion

TABLE: Final = Path(__file__).with_name("codes.toml")


@cache
def code_tables() -> dict[str, dict[str, tuple[str, str]]]:
    """The codes of errors and of findings: what each means, and what to do."""
    tables = tomllib.loads(TABLE.read_text("utf-8"))
    return {
        name: {code: (means, remedy) for code, (means, remedy) in of.items()}
        for name, of in tables.items()
    }


def finding_codes() -> list[str]:
    """The codes of findings."""
    return list(code_tables()["findings"])


def finding_code_fault(code: str) -> str:
    """What is wrong with the code of a finding, with the nearest one; '' where it is one."""
    if code in (codes := finding_codes()):
        return ""
    return f"'{code}' is no code of a finding.{suggestion(code, codes)}"
