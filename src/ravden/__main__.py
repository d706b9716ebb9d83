"""``python -m ravden``."""

import sys

from ravden.cli import main

sys.exit(main())
