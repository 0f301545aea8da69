"""Tarnholm Pump Works, an invented shop: data files only, copied to a place that may be spoiled."""

from pathlib import Path

FOLDER = Path(__file__).parent
