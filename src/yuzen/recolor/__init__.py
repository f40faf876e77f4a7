"""Charts that are in decks and workbooks already, read and coloured by rules."""
