"""Claims: what a test says of its subject. Each file brings its own; a new one is imported here.

A claim says its words, how it is read, an example, and its SQL where it has one: see
`base.BaseClaim`.
"""

from typing import Final

from yuzen.rules.claims.base import CLAIMS as CLAIMS
from yuzen.rules.claims.base import BaseClaim as BaseClaim
from yuzen.rules.claims.compare import Between as Between
from yuzen.rules.claims.compare import Compare as Compare
from yuzen.rules.claims.compare import HasSign as HasSign
from yuzen.rules.claims.compare import Missing as Missing
from yuzen.rules.claims.distance import Distance as Distance
from yuzen.rules.claims.every import Every as Every
from yuzen.rules.claims.first_last import FirstLast as FirstLast
from yuzen.rules.claims.first_last import Position as Position
from yuzen.rules.claims.rank import End as End
from yuzen.rules.claims.rank import Extreme as Extreme
from yuzen.rules.claims.rank import Rank as Rank
from yuzen.rules.claims.recent import Recent as Recent
from yuzen.rules.claims.sequence import Moves as Moves
from yuzen.rules.claims.sequence import NewExtreme as NewExtreme
from yuzen.rules.claims.signs import ChangesSign as ChangesSign
from yuzen.rules.claims.signs import Turns as Turns
from yuzen.rules.claims.spread import Outlier as Outlier
from yuzen.rules.claims.text import OneOf as OneOf
from yuzen.rules.claims.text import TextTest as TextTest

OPENING: Final = {
    word: claim for claim in CLAIMS for word in claim.words
}  # the words that claims begin with
