"""What is particular to a stage: the title block (Read), the proof (Prove)."""
