"""The Tools view: the tray, each tool drawn over the setter, old and new offset."""
