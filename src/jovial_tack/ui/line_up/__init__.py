"""Looking down on the groove planes."""
