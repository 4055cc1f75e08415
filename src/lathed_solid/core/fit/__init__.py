"""Parts put together: where each stands, what ties them, what can still move, what is in whose way."""
