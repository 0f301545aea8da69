"""The Shelf: masters, indicators, setters and probes with their certificates."""
