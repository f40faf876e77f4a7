"""The values of a page: what one picture shows, with every text and colour decided."""
