"""The operation sheet: what a part's faces ask for at the machines, in which set-ups, how fast, and what to measure."""
