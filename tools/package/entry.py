"""What the packaged program starts with: settings that must stand before the numeric libraries load, and the solver
as it was compiled when the package was built."""

import os
import sys
from pathlib import Path

# One thread serves matrices this small best, and starting more costs memory and time.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
# As it was compiled: for any processor of this kind, not for the one that built the package.
os.environ["NUMBA_CPU_NAME"] = "generic"
os.environ["NUMBA_CPU_FEATURES"] = ""

from ravden import __version__
from ravden.cli import main
from ravden.system import solver_cache

SHIPPED = Path(sys.executable).parent / "solver"

if __name__ == "__main__":
    if SHIPPED.is_dir():
        solver_cache.bring(SHIPPED, __version__)
    sys.exit(main())
