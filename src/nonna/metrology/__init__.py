"""Pure numerics: scatter, uncertainty, coverage, decisions. Arrays in, frozen results out."""
