"""Drawing sheets: what is kept of them, their paper, and how lines and words stand on it (mm, x right, y up)."""
