"""The command line; nothing here imports Qt."""
