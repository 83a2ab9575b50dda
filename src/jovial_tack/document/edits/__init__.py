"""Edits: pure functions Build -> Build, each checked, by what they change."""
