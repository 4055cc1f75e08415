"""Everything that computes. Nothing below here knows an interface; lengths are mm, angles radians."""
