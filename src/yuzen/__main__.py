"""The command line: `yuzen`, or `python -m yuzen`."""

import signal


def run() -> None:
    """Run the command line. While it is being loaded, Ctrl-C ends it without a word."""
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    from yuzen.cli.main import run as run_command  # noqa: PLC0415 - not before what stands above

    run_command()


if __name__ == "__main__":
    run()
