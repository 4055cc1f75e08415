"""Trials: the program is pressed hard with damage, nonsense and kills, and must lose nothing and never fall.

``python -m trials`` runs all for a minute each; ``python -m trials NAME --hours H`` one of them for longer.
"""
