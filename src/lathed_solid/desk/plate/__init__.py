"""The layout plate: the sketch editor, flat, beside the part view."""
