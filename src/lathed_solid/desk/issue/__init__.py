"""The Issue stage: drawing sheets on their paper, made from the callouts and the part, and the files they go into."""
