"""What a sketch can still do, what collides in it, and what would finish it."""
