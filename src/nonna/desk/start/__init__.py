"""From nothing to a window: the application, the first window, what loads behind, the tour, the launcher.

Here belongs what happens once in a run.
"""
