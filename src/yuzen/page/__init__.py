"""The values of a page, and nothing else: what one picture shows, decided to the last word and colour."""
