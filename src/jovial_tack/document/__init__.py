"""The build file as a value: model, loading, history, edits. Computes nothing of a drive."""
