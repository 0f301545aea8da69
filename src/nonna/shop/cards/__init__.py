"""What a shop owns, as its files describe it: machines, controls, masters, gear, rules, jobs.

Here belongs one frozen model a file; what is done with it stands in the bench.
"""
