"""Files written whole or not at all, read whole or not at all; where they live on this computer.

Here belongs what is true of any file; a shop's own stand in `adapters.shop_files`.
"""
