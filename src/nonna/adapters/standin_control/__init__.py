"""A stand-in control in a process of its own: its drop folder, its cable, its disk and its faults to order."""
