"""Signed records as values: what a measurement, an event, a withdrawal or a change of cards says, by name.

`text` alone turns them into canonical JSON and back. Who stores them, and who signs them, is elsewhere.
"""
