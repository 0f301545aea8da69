"""Figures as ratios measured in one run."""
