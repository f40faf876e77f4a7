"""What is known of fonts without reading them again: families, and letters measured once."""

from dataclasses import dataclass, field
from typing import Final, NamedTuple, TypeAlias

from yuzen.scene.writing import Font

Extent: TypeAlias = tuple[float, float, float]  # width, height, what of it is below the foot line
MAX_LETTERS: Final = 20_000  # letters, and pairs of them, that are kept of one font
MAX_FONTS: Final = 500  # fonts whose letters are kept


class Glyph(NamedTuple):
    """A letter's metrics in pixels: its advance, and how far it reaches up and down."""

    advance: float
    above: float
    below: float


@dataclass(eq=False)
class LetterMetrics:
    """The letters of one font that were measured so far.

    glyphs:   of each letter; None where it is of another font.
    kernings: of each pair of letters, in pixels.
    """

    glyphs: dict[str, Glyph | None] = field(default_factory=dict)
    kernings: dict[str, float] = field(default_factory=dict)

    @property
    def count(self) -> int:
        """How many letters and pairs are known."""
        return len(self.glyphs) + len(self.kernings)


@dataclass(eq=False)
class KnownFonts:
    """What this process knows of fonts: the families of the machine, and measured letters.

    families: None as long as nobody has asked for them.
    """

    families: frozenset[str] | None = None
    letters: dict[Font, LetterMetrics] = field(default_factory=dict)

    def letters_of(self, font: Font) -> LetterMetrics:
        """The known letters of a font, to which more may be added; few fonts have too many."""
        known = self.letters.get(font)
        if known is None or known.count > MAX_LETTERS:
            if len(self.letters) >= MAX_FONTS:
                self.letters.clear()
            known = self.letters[font] = LetterMetrics()
        return known

    @property
    def count(self) -> int:
        """How many letters, pairs of them and families are known."""
        families = self.families or ()
        return len(families) + sum(letters.count for letters in self.letters.values())


KNOWN_FONTS: Final = KnownFonts()
