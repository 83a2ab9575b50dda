"""Line up: what was read of planes and tilts, and what is told of stacks."""
