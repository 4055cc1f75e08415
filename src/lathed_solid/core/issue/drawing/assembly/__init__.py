"""The drawing sheets of an assembly: what its views show, how one is laid out, the list of its parts."""
