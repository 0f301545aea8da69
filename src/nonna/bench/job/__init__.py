"""What a tray's tools go through on a machine: plan, program, rehearsal, run, results judged together.

Here belongs the work on many tools at once; one tool's sheet stands in `bench.sheet`.
"""
