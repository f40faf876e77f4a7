"""Charts as analysts call them: how one begins, its stages, verdicts without a picture, comparing two."""
