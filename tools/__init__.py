"""Scripts for those who work on Yuzen."""
