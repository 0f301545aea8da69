"""Nonna: calibrates probes, setters and tools on CNC machines, and keeps records that hold up."""

__version__ = "0.1.0"
