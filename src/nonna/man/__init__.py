"""The manual page: data."""
