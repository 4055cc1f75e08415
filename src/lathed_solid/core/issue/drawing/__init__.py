"""Drawing sheets of a part: what its views show, where callouts take hold, and the files they are written to."""
