"""What is written to be read by people: certificates, labels, the bench list.

Here belongs layout on paper and in XML; what is said in it stands in `wording`.
"""
