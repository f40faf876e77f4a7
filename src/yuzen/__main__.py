"""The command line as `python -m yuzen`."""

from yuzen.cli.main import run

run()
