"""The ferry data and the briefs that the gallery is made of."""
