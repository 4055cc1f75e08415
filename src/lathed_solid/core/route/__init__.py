"""The route: numbered steps that shape the part, one module a kind, and the rebuild that runs them."""
