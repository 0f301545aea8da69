"""The book from the bench's side: what makes a record, and what a record says when it is read again.

Where records are stored is a port's business (`bench.ports`); what they hold is `shop.records`.
"""
