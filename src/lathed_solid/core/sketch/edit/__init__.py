"""Changes to what is drawn: trimming, corners, offsets, copies."""
