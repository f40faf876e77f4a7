"""One picture is drawn at a time.

Matplotlib is not made for several threads (its own FAQ: "Matplotlib is not thread-safe"), and
warnings are silenced for the whole process; drawing needs the interpreter all the time anyway, so
waiting costs little.
"""

from typing import Final

# A lock that is taken inside this one has to be made before it.
import yuzen.draw.text.font_reader  # noqa: F401
from yuzen.locks import lock_held_while_forking

DRAWING: Final = lock_held_while_forking()
