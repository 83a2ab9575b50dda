"""Sheets of paper in PDF: of one build the same bytes, in any process."""
