"""Python in a process of its own, for what would end or hang the process of the tests."""

import subprocess
import sys


def printed_by(code: str) -> str:
    """What a program prints. Its time is bounded generously, as one that hangs would never end."""
    call = [sys.executable, "-W", "ignore", "-c", code]
    done = subprocess.run(call, capture_output=True, text=True, timeout=300, check=True)
    return done.stdout.strip()
