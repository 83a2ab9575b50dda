"""``python -m jovial_tack`` is the same as ``jovial-tack``."""

import sys

from jovial_tack.cli import main

sys.exit(main())
