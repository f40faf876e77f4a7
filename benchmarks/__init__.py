"""Yuzen side by side with the scripts that an analyst would write by hand, in one run."""
