"""The application, without a window: open a sheet, sign, log an event, state of a station, plan, rehearse, run, judge a
job.

What it needs of the world outside it asks through its ports (`ports`); it opens no file and knows no widget.
"""
