"""The inspection report: what was asked, what the solid has, what the part in hand has."""
