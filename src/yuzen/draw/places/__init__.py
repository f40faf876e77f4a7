"""Who gets which place: numbers, names and notes, each at the best place that is free."""
