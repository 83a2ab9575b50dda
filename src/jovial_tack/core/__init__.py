"""The mechanics: NumPy only, no Qt, no files, no state.

Units inside the core are mm, N, N·m, kg, s and rad; shaft speeds are rev/min. Points of the front
view are complex numbers, x + iy in mm, so that a unit vector turned left is that vector times 1j.
Every routine works on lanes: leading axes are combinations and load states, the last axis is the
pulley (or the span that leaves it) in belt-travel order.
"""
