"""What an analyst writes: the typed brief, TOML in and out, messages that name the place."""
