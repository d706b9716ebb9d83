"""The command line: ``ravden`` opens the window; subcommands do the rest without one.

Modules only a subcommand needs are imported by it, so that the window does not wait for them.
"""

from __future__ import annotations

import contextlib
import gc
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from ravden import __version__
from ravden.core.errors import InputError
from ravden.text.say import whole_fault

if TYPE_CHECKING:
    import argparse

ABOUT = """\
Plans and tracks the finish on instruments: how much film is on every zone, when it may be levelled, rubbed out and
cased, and which grits get it to gloss.

Without a subcommand, opens the window on FILE, or on the shop file that was open last."""
EXAMPLES = """\
examples:
  ravden shop.ravden                              open a shop file (it is made if it is not there)
  ravden demo                                     open a made-up shop
  ravden demo --offscreen shots/                  render every main view to PNG, with no display
  ravden compute --list                           the kinds of computation
  ravden compute cure --schema                    what one of them takes
  ravden compute cure < case.json > result.json   run it; exit 2 and one line of what is wrong for bad input
  ravden export shop.ravden > journal.json        everything ever logged, as JSON
  ravden export shop.ravden --as csv              the same as a table
  ravden export shop.ravden --instrument tern     one instrument with its plan, to bring into another shop
  ravden import shop.ravden tern.json             bring it in
  ravden desktop --install                        put Ravden into your own menu

Ravden estimates; the product's data sheet, local codes and licensed practice come first."""
WITHOUT_DISPLAY = "Without one: ravden demo --offscreen shots/ renders every view; ravden compute --list"


def _parser() -> argparse.ArgumentParser:
    import argparse

    parser = argparse.ArgumentParser(
        prog="ravden", description=ABOUT, epilog=EXAMPLES, formatter_class=argparse.RawDescriptionHelpFormatter
    )
    parser.add_argument("--version", action="version", version=f"ravden {__version__}")
    sub = parser.add_subparsers(dest="command", metavar="COMMAND")
    window = sub.add_parser("window", help="open the window (what happens without a command, too)")
    window.add_argument("file", nargs="?", type=Path, metavar="FILE")
    demo = sub.add_parser("demo", help="open a made-up shop, dated from today")
    demo.add_argument("--offscreen", type=Path, metavar="FOLDER", help="render every main view to PNG instead")
    demo.add_argument("--on", metavar="DATE", help="date the demo from this day and hour, e.g. 2026-03-01T14:00")
    compute = sub.add_parser("compute", help="one computation, JSON in, JSON out")
    compute.add_argument("kind", nargs="?", metavar="KIND")
    compute.add_argument("--list", action="store_true", help="name the kinds")
    compute.add_argument("--schema", action="store_true", help="print the JSON Schema of the kind's input")
    compute.add_argument("--pretty", action="store_true", help="indent the result")
    export = sub.add_parser("export", help="what is in a shop file, as JSON, a table or a calendar")
    export.add_argument("file", type=Path, metavar="FILE", nargs="?", default=Path())
    export.add_argument("--instrument", metavar="ID", default="", help="only this one, with its plan")
    export.add_argument("--as", dest="form", choices=("json", "csv", "calendar"), default="json")
    export.add_argument("--schema", action="store_true", help="print the JSON Schema of one instrument's file")
    desktop = sub.add_parser("desktop", help="put Ravden into your own menu, or take it out again")
    which = desktop.add_mutually_exclusive_group(required=True)
    which.add_argument("--install", action="store_true", help="menu entry, icon and file type, in your own folders")
    which.add_argument("--remove", action="store_true", help="take them away again")
    bring = sub.add_parser("import", help="bring an instrument's JSON file into a shop file")
    bring.add_argument("file", type=Path, metavar="FILE")
    bring.add_argument("instrument", type=Path, metavar="INSTRUMENT.json")
    return parser


def _compute(args: argparse.Namespace) -> int:
    import json

    from ravden.app import compute

    if args.list:
        print("\n".join(compute.KINDS))
        return 0
    if args.kind is None:
        raise InputError("KIND", f"name what to compute: {', '.join(compute.KINDS)}")
    if args.schema:
        if args.kind not in compute.KINDS:
            raise InputError("KIND", f"must be one of {', '.join(compute.KINDS)} (got {args.kind})")
        print(json.dumps(compute.schema(args.kind), indent=2))
        return 0
    raw = sys.stdin.buffer.read(compute.MAX_BYTES + 1)
    result = compute.run(args.kind, raw)
    print(json.dumps(result, indent=2 if args.pretty else None, ensure_ascii=False, allow_nan=False))
    return 0


def _export(args: argparse.Namespace) -> int:
    import json
    from datetime import datetime

    from ravden.exchange import instrument, journal_csv
    from ravden.journal.entry import as_dict
    from ravden.journal.store import Journal

    if args.schema:
        print(json.dumps(instrument.schema(), indent=2))
        return 0
    if args.form == "calendar" and not args.instrument:
        raise InputError("--instrument", "a calendar is of one instrument: name it")
    journal = Journal.open(args.file)
    try:
        entries = journal.entries()
    finally:
        journal.close()
    if args.form == "csv":
        from ravden.catalogue.tables import shipped
        from ravden.journal.fold import Fold

        aside = Fold(entries, shipped()).aside
        sys.stdout.write(journal_csv.journal_csv(entries, args.instrument, aside))
    elif args.instrument:
        from ravden.app.plan_of import plan_in_shop, steps_out
        from ravden.catalogue.tables import shipped
        from ravden.journal.fold import Fold

        shop, now = Fold(entries, shipped()).shop, datetime.now().astimezone()
        found = plan_in_shop(shop, args.instrument, now)
        if args.form == "calendar":
            from ravden.exchange.calendar import calendar

            raw = calendar(shop, args.instrument, found, now)
        else:
            raw = instrument.write(entries, shop, args.instrument, steps_out(shop, args.instrument, found))
        sys.stdout.buffer.write(raw)
    else:
        whole = {"format": "ravden journal", "version": 1, "entries": [as_dict(e) for e in entries]}
        print(json.dumps(whole, indent=1, ensure_ascii=False))
    return 0


def _import(args: argparse.Namespace) -> int:
    from ravden.catalogue.tables import shipped
    from ravden.exchange import instrument
    from ravden.journal.fold import Fold
    from ravden.journal.store import Journal
    from ravden.system.files import take_in

    name = args.instrument.name
    raw = take_in(args.instrument, instrument.MOST_BYTES, f"is larger than {instrument.MOST_BYTES // 1_000_000} MB")
    found = instrument.read(raw, name)
    journal = Journal.open(args.file)
    try:
        entries = journal.entries()
        there, written = instrument.bring_in(found, name, journal, entries, Fold(entries, shipped()).shop)
    finally:
        journal.close()
    print(f"{there}: {len(written)} entries")
    return 0


def _display() -> None:
    """Choose the toolkit's platform by what answers. Raises _NoDisplay: the toolkit would end the process itself."""
    from ravden.system.display import platform_for

    try:
        platform = platform_for(os.environ)
    except InputError as error:
        raise _NoDisplay(str(error)) from None
    if platform:
        os.environ["QT_QPA_PLATFORM"] = platform


class _NoDisplay(Exception):
    """A window was asked for, and there is nowhere to show it."""


def _demo(args: argparse.Namespace) -> int:
    import tempfile
    from datetime import UTC, datetime

    from ravden.system.writable import need_writable

    start = datetime.now(UTC)
    if args.on:
        try:
            start = datetime.fromisoformat(args.on).astimezone()
        except ValueError:
            raise InputError("--on", f"{args.on} is not a date such as 2026-03-01T14:00") from None
    if args.offscreen is not None:
        need_writable(args.offscreen)
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
        from ravden.demo import ferrow_lane
        from ravden.ui import shots

        with tempfile.TemporaryDirectory() as temporary:
            shop = Path(temporary) / "ferrow-lane.ravden"
            ferrow_lane.build(shop, start)
            ferrow_lane.plan(shop, start)
            for path in shots.render(shop, args.offscreen, start):
                print(path)
        return 0
    _display()
    from ravden.app import made_up
    from ravden.demo import ferrow_lane
    from ravden.ui import app

    path = made_up.path()
    need_writable(path.parent)
    ferrow_lane.build(path, start)
    ferrow_lane.plan(path, start)
    return app.run(path)


def _desktop(args: argparse.Namespace) -> int:
    from ravden.system import desktop

    done = desktop.remove() if args.remove else desktop.install()
    for path in done:
        print(f"{'removed' if args.remove else 'written'}: {path}")
    if not done:
        print("nothing of Ravden's was there")
    return 0


def _window(path: Path | None) -> int:
    _display()
    _prepare_solver()
    # Importing makes many objects and little garbage: looking for it before the first paint only costs time.
    gc.disable()
    from ravden.ui import app

    return app.run(path)


def main(argv: list[str] | None = None) -> int:
    """Run the command line; returns the exit code. Bad input, or a disk that gives trouble: one line on standard error
    and 2; no display to open a window on: one line and 3."""
    try:
        try:
            code = _run(sys.argv[1:] if argv is None else argv)
        except SystemExit as asked:  # the parser's own way of ending, after --help or what it does not know
            code = asked.code if isinstance(asked.code, int) else 0
        sys.stdout.flush()
        return code
    except InputError as error:
        return _told(whole_fault(error), 2)
    except _NoDisplay as error:
        return _told(f"{error}. {WITHOUT_DISPLAY}", 3)
    except BrokenPipeError:
        _leave_standard_output()
        return 0
    except OSError as error:
        _leave_standard_output()
        return _told(": ".join(str(part) for part in (error.filename, error.strerror or error) if part), 2)


def _run(words: list[str]) -> int:
    commands = {"compute": _compute, "export": _export, "import": _import, "demo": _demo, "desktop": _desktop}
    if not words or words[0] not in ("window", "read-photo", "search-plan", "-h", "--help", "--version", *commands):
        words = ["window", *words]
    if words == ["read-photo"]:  # the packaged program's own process for photos
        from ravden.exchange.photo_child import main as read_photo

        return read_photo()
    if words == ["search-plan"]:  # and the one that searches for better plans
        from ravden.app.search_child import main as search_plan

        search_plan()
        return 0
    if words == ["window"]:
        return _window(None)
    if len(words) == 2 and words[0] == "window" and not words[1].startswith("-"):
        return _window(Path(words[1]))
    args = _parser().parse_args(words)
    _prepare_solver()
    return commands[args.command](args) if args.command in commands else _window(args.file)


def _prepare_solver() -> None:
    from ravden.system import solver_cache

    solver_cache.prepare()


def _told(sentence: str, code: int) -> int:
    print(f"ravden: {sentence}", file=sys.stderr)
    return code


def _leave_standard_output() -> None:
    """Nothing more is written to it: who read it has gone, or its disk is full."""
    with contextlib.suppress(OSError, ValueError):
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())


if __name__ == "__main__":
    sys.exit(main())
