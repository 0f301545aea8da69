"""What goes to a machine's control and comes back from it: results stored into its own tables, read back and proved.

The lines are the control's card's (`shop/cards/control_card`), how they are written `programs/writing`'s.
"""
