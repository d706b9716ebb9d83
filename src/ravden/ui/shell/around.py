"""What a place may use of the window when it is built."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QThreadPool

from ravden.app.session import ShopSession
from ravden.ui.shell.anywhere import Anywhere
from ravden.ui.shell.file_dialogs import FileDialogs
from ravden.ui.shell.looks import Looks
from ravden.ui.shell.planning import Planning
from ravden.ui.shell.shell import Shell

if TYPE_CHECKING:
    from ravden.app.troubles import Trouble
    from ravden.core.ahead.outlook import Outlook


@dataclass(frozen=True, slots=True, kw_only=True)
class Around:
    """shell: ways to tell and to turn; anywhere, files, looks: what can be done from every place; pool: work off the
    GUI thread; outlooks: what is known of every instrument by now; troubles: those whose
    record cannot be worked out; planning: the plan of the whole shop."""

    shell: Shell
    session: ShopSession
    anywhere: Anywhere
    files: FileDialogs
    looks: Looks
    pool: QThreadPool
    outlooks: Callable[[], Mapping[str, Outlook]]
    troubles: Callable[[], Mapping[str, Trouble]]
    planning: Planning
