"""Small pieces every page is made of: widgets, fields, lists, figures, dialogs over the window.

Here belongs what knows neither a shop nor a window.
"""
