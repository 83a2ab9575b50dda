"""Bracket plates as files: for the cutter (DXF), for drawing programs (SVG), for paper 1:1 (PDF)."""
