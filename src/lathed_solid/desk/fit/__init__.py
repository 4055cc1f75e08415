"""The Fit stage: an assembly, its parts and relations, what moves and what is in the way."""
