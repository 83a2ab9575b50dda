"""The build as a value: its model, edits, history, and the solve that turns it into results."""
