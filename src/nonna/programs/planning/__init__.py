"""What a measuring program is going to touch: how each tool is touched, where from, how fast, past what.

Here belongs the plan; its text is made in `programs.writing`.
"""
