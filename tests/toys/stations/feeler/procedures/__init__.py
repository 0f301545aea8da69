"""Procedures that only this kind of station has."""
