"""Rendered pictures: how they are wanted, and what comes."""
