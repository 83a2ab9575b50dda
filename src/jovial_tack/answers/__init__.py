"""What is computed from a build."""
