"""An entry taken back, or brought back."""

from __future__ import annotations

from ravden.journal.kinds.kind import Kind


class Undone(Kind, frozen=True, tag="undone"):
    """Entry ``corrects`` no longer counts. Undoing an Undone brings the first one back.

    whole: nor does what that entry corrected; else a correction undone brings the old value back.
    """

    whole: bool = False
