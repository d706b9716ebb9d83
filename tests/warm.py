"""Read once by the process that every test module begins as a copy of: the sciences, the window, and the solver."""

import ravden.core.ahead.counsel
import ravden.ui.app  # noqa: F401
from ravden.core.cure.evaporative import warm_up

warm_up()
