"""Doubt: scatter, means, fits, budgets, coverage, decisions.

Here belongs what every result is made with.
"""
