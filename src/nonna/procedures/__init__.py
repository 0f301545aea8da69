"""One file a procedure: its inputs, steps and cautions, `evaluate`, advice."""
