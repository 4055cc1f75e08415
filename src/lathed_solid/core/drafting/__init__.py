"""Drawing a sketch with its sizes: where everything stands and what it says, for the plate as for paper."""
