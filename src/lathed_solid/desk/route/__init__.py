"""The route panel: step cards, and the editor of the chosen step."""
