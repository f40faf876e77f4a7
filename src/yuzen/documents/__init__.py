"""Documents of many charts: what a report file says, what it becomes, and its writers."""
