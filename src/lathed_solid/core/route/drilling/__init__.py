"""Holes: where they start, the half section of their tool, and what they state."""
