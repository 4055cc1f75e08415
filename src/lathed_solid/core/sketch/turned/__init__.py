"""The turned-profile table and the edge treatments typed in it."""
