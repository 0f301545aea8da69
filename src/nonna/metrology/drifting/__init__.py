"""What time does to a value: drift, forecast, wear and its correction, temperature.

Here belongs what looks at a series of results.
"""
