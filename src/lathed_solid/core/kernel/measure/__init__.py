"""What a solid is, read off it: surfaces, curves, sections, pairs."""
