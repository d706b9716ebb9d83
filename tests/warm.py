"""Read once by the process that every test module begins as a copy of: the sciences, the window, and the solver."""

import ravden.core.ahead.counsel
import ravden.ui.app  # noqa: F401
from ravden.core.cure import evaporative
from ravden.core.schedule import odds

evaporative.warm_up()
odds.warm_up()
