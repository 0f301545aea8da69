"""The look of the desk: colours, type, link shapes, each defined once."""
