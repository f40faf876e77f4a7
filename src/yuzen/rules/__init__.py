"""The heart: conditions, quantities and the judge, in NumPy and nothing else."""

from yuzen.rules import claims as claims  # whose words belong to the language from the start
