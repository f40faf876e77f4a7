"""The registers: kinds of chart, effects and targets."""
