"""One picture is drawn at a time.

Matplotlib is not made for several threads (its own FAQ: "Matplotlib is not thread-safe"), and
warnings are silenced for the whole process; drawing needs the interpreter all the time anyway, so
waiting costs little.
"""

from threading import RLock
from typing import Final

DRAWING: Final = RLock()
