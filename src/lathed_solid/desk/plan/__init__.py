"""The Plan stage: what the part is cut from, and where its zero sits."""
