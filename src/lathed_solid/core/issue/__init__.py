"""What leaves the workshop: the formats a part is written in."""
