"""The simulated machine: a truth with faults that nobody else sees; it runs real programs."""
