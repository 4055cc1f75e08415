"""Assembly documents: parts looked at for them, and their files."""
