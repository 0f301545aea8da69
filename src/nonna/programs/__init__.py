"""Measuring programs: plan, write, parse, run."""
