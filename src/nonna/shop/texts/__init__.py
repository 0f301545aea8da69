"""Text of a stranger, read whole or refused: JSON, CSV, lines by a pattern; the strict base of every model.

Here belongs how a file is read; what it means stands in `shop.cards`.
"""
