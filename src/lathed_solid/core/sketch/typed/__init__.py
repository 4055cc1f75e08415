"""Drawing by typing."""
