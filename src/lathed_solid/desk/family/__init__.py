"""The family of the part: its table, and what comes of each member."""
