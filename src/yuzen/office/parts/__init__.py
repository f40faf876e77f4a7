"""The parts that decks and workbooks are made of, as XML."""
