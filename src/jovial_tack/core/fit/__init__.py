"""How parts sit on the engine: alignment of groove planes."""
