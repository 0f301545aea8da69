"""The Loop: the machine with its links, and the next jobs."""
