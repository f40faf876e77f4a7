"""Starts a PostgreSQL of its own on loopback for the tests, or ends it.

python tools/servers.py [stop]

It needs Debian's package postgresql. The server keeps its data in .servers/, knows one user
without a password, and answers on this machine alone.
"""

from __future__ import annotations

import os
import pwd
import shutil
import subprocess
import sys
from pathlib import Path
from typing import Final

FOLDER: Final = Path("/var/tmp/yuzen-servers")  # noqa: S108 - which the server's own user can enter
PORT: Final = 54329
ADDRESS: Final = f"postgresql+pg8000://yuzen@127.0.0.1:{PORT}/postgres"
USER: Final = "postgres"


def main() -> int:
    """Start the server, or end it; 1 where there is none to start."""
    binaries = sorted(Path("/usr/lib/postgresql").glob("*/bin"))
    if not binaries:
        print("There is no PostgreSQL here: apt-get install postgresql", file=sys.stderr)
        return 1
    control = str(binaries[-1] / "pg_ctl")
    if "stop" in sys.argv:
        return run(control, "-D", str(FOLDER), "-m", "fast", "stop")
    if not (FOLDER / "PG_VERSION").exists():
        shutil.rmtree(FOLDER, ignore_errors=True)
        FOLDER.mkdir(mode=0o700)
        if os.geteuid() == 0:
            os.chown(FOLDER, *own_user())
        made = run(
            str(binaries[-1] / "initdb"),
            "-D",
            str(FOLDER),
            "-U",
            "yuzen",
            "-A",
            "trust",
            "-E",
            "UTF8",
        )
        if made:
            return made
    if run(control, "-D", str(FOLDER), "status") == 0:
        return 0  # it runs already, and says so
    settings = f"-p {PORT} -c listen_addresses=127.0.0.1 -c unix_socket_directories={FOLDER}"
    return run(control, "-D", str(FOLDER), "-w", "-l", str(FOLDER / "log"), "-o", settings, "start")


def own_user() -> tuple[int, int]:
    """The user whom the server runs as, where this is root, whom it refuses."""
    found = pwd.getpwnam(USER)
    return found.pw_uid, found.pw_gid


def run(*command: str) -> int:
    """Run a program of the server's as its user; its exit code."""
    user = USER if os.geteuid() == 0 else None
    return subprocess.run(command, check=False, user=user, cwd="/").returncode  # noqa: S603 - our own words


if __name__ == "__main__":
    sys.exit(main())
