"""The server of a desk: who may ask, what may be asked, and the page itself."""
