"""Work off the Qt thread and the way back to it, turns of the event loop, memory.

Here belongs what moves work about; what the work is stands with whoever asks for it.
"""
