"""One module a kind of step: its fields, how it is built, what it proves."""
