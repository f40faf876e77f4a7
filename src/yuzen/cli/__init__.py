"""The command line, thin: parse, call, print."""
