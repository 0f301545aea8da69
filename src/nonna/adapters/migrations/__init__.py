"""Every change of the stored shape, oldest first."""
