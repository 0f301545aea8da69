"""What a window does with its shop behind the screen: reads it, keeps its tables, signs into its book.

Here belongs what waits for the disk.
"""
