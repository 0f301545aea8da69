"""Kinds of stations that exist in the tests alone: a folder each, nothing else."""
