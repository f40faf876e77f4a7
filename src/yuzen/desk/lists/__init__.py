"""Rules built of lists: conditions as sentences, what is offered, and what they would do."""
