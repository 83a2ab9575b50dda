"""Shapes of a belt drive without Qt; each back end (screen, paper) only has to draw them.

A shape has a stable key, so that a back end can keep what it drew and touch only what changed, a role
that says what it is (and so how it looks), and plain coordinates in mm of the front view.
"""
