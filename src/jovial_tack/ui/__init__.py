"""The window. Widgets hold no truth and compute no formula: they read the session and hand it edits."""
