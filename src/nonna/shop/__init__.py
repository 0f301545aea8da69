"""What a shop owns: machines, setters, masters, tools; links, events, staleness."""
