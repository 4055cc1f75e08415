"""What everything in the kernel stands on: shapes, names, plain figures, the accept rule."""
