"""Cards of masters, machines and gear: what is on them, how they are changed and signed, their trail.

Here belongs what is done with a card; its model stands in `shop`.
"""
