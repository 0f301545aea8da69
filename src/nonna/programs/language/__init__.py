"""The language of programs: blocks, expressions, modal state, what each word does to a machine.

Here belongs what is true of any program; what ours touch is planned in `programs.planning`.
"""
