"""Many charts: batches on all processors, their workers, and workers of a cluster."""
