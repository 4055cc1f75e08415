"""The desk: the window and everything in it. No widget holds the model; all of it is in the session."""
