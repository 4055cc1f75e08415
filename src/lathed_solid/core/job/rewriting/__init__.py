"""The present route made another way: what comes makes the same part, or it is refused."""
