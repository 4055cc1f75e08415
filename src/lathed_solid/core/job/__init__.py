"""The document: one immutable tree, edits as pure functions, history, storage and recovery."""
