"""What is open at a bench and what happens on a command: a sheet in hand, a tray, the shop that is looked at.

Nothing here knows a widget. Time, a question, an instrument come through `front`, the port to whoever shows it.
"""
