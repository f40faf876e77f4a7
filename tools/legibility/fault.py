"""What cannot be read in a picture."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Fault:
    """A class of what cannot be read, and one text that shows it."""

    what: str
    text: str
