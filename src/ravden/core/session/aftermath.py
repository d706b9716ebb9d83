"""What a session did: coats against those planned, and how windows and film stand after it, against before it."""

from dataclasses import dataclass

from ravden.core.ahead.outlook import Outlook
from ravden.core.record import Coat, Mishap, Pass, Sanding


@dataclass(frozen=True, slots=True, kw_only=True)
class Moved:
    """A window before and after the session: when it was and is likely to open [h]; None: not within sight."""

    name: str
    before_h: float | None
    after_h: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Aftermath:
    """planned, done: coats of the session; begun: passes of a coat not finished; zones_sanded: entries of paper;
    mishaps: what, on which zone; moved: the next windows."""

    planned: int
    done: int
    zones_sanded: int
    begun: int
    mishaps: tuple[tuple[str, str], ...]
    moved: tuple[Moved, ...]


def aftermath(before: Outlook | None, after: Outlook, begun_h: float, ended_h: float, session_h: float) -> Aftermath:
    """before: the outlook as it was when the session began, with the plan of then; None: it was not on the rack.

    begun_h, ended_h: the session [h]; session_h: coats planned within so many hours of its beginning were meant for it.
    """
    acts = [a for a in after.project.acts if begun_h <= a.at_h <= ended_h]
    last_coat = max((a.at_h for a in acts if isinstance(a, Coat)), default=begun_h)
    planned = [] if before is None else [c for c in before.forward.coats if c.at_h <= begun_h + session_h]
    then = {} if before is None else {w.name: w.likely_h for w in before.windows}
    return Aftermath(
        planned=sum(c.zones is None for c in planned),
        done=sum(a.whole_count for a in acts if isinstance(a, Coat)),
        begun=sum(isinstance(a, Pass) and a.at_h > last_coat for a in acts),
        zones_sanded=sum(isinstance(a, Sanding) for a in acts),
        mishaps=tuple((a.what, a.zone) for a in acts if isinstance(a, Mishap)),
        moved=tuple(Moved(name=w.name, before_h=then.get(w.name), after_h=w.likely_h) for w in after.windows),
    )
