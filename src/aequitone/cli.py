"""The command: the window, a run without one, a report."""

import gc
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

if TYPE_CHECKING:
    from aequitone.logbook import Logbook

app = typer.Typer(
    no_args_is_help=False,
    pretty_exceptions_enable=False,
    help="Measure a screen, say what to turn, prove it.",
)

LogbookOption = Annotated[Path | None, typer.Option("--logbook", help="Another logbook than your own.")]
VisitOption = Annotated[int | None, typer.Option("--visit", help="The visit's number; the newest if not said.")]
PaceOption = Annotated[
    float,
    typer.Option("--pace", min=0.1, max=1000.0, help="How many times faster than the wall clock stand-ins run."),
]
DemoPaceOption = Annotated[
    float | None,
    typer.Option("--pace", min=0.1, max=1000.0, help="How many times faster than the wall clock stand-ins run."),
]


def main() -> None:
    """Entry point: what goes wrong is one sentence on standard error, and exit code 2."""
    # Starting makes much and drops little: collecting on the way costs a fifth of the start.
    # The window, and every other command, turns it on again once it is up.
    gc.disable()
    from aequitone.diagnosis import LOG, start_log
    from aequitone.errors import AequitoneError

    start_log()
    try:
        app()
    except (AequitoneError, ValueError, LookupError, OSError) as error:
        LOG.error("ended by %s", type(error).__name__, exc_info=error)
        _fail(error)


def _fail(error: Exception) -> None:
    from aequitone.instruments.errors import InstrumentError

    kept = (
        " Every reading up to here is kept; the same command goes on from the last."
        if isinstance(error, InstrumentError)
        else ""
    )
    told = f"{error.filename}: {error.strerror}" if isinstance(error, OSError) and error.filename else str(error)
    sentence = told.rstrip(".")
    sys.stderr.write(f"aequitone: {sentence}.{kept}\n")
    raise SystemExit(2)


def _version(wanted: bool) -> None:
    if wanted:
        from aequitone import __version__

        print(f"Aequitone {__version__}")  # noqa: T201
        raise typer.Exit


@app.callback(invoke_without_command=True)
def window(
    context: typer.Context,
    logbook: LogbookOption = None,
    pace: PaceOption = 1.0,
    version: Annotated[  # noqa: ARG001 - it is over before this is
        bool,
        typer.Option(
            "--version",
            help="Say which version this is.",
            callback=lambda wanted: _version(wanted=wanted),
            is_eager=True,
        ),
    ] = False,
) -> None:
    """Open the window on your own logbook."""
    if context.invoked_subcommand is None:
        from aequitone.desktop.app import open_window

        raise typer.Exit(open_window(logbook or own_logbook(), pace=pace))


@app.command()
def demo(
    folder: Annotated[Path, typer.Option(help="Where the demo logbook lies.")] = Path("build/demo"),
    pace: DemoPaceOption = None,
    drive: Annotated[
        bool,
        typer.Option("--drive", help="Play the demo visit through the window and leave pictures and report."),
    ] = False,
    by_hand: Annotated[
        bool, typer.Option("--by-hand", help="Turn the controls yourself, with the stand-in remote.")
    ] = False,
) -> None:
    """Open the window on a demo logbook with a simulated bench."""
    from aequitone.desktop.demo.demo import open_demo

    raise typer.Exit(open_demo(folder, pace=pace, drive=drive, by_hand=by_hand))


@app.command()
def run(
    scenario: Annotated[str, typer.Argument(help="A scenario file, or the name of a shipped one, such as demo.")],
    out: Annotated[Path, typer.Option("--out", help="The folder for summary.json and the logbook of the run.")],
    seed: Annotated[int, typer.Option("--seed", min=0, help="Which unit of the screen, and which noise.")] = 0,
    target: Annotated[str | None, typer.Option("--target", help="Another target than the scenario's.")] = None,
    jobs: Annotated[
        Path | None, typer.Option("--jobs", help="A list of jobs (docs/formats.md), done one after another.")
    ] = None,
    pace: Annotated[
        float | None,
        typer.Option(
            "--pace", min=0.1, help="Run the simulated clock at this pace instead of not waiting at all."
        ),
    ] = None,
    whole: Annotated[
        bool, typer.Option("--whole", help="With warm-up, room, preset and levels before grey.")
    ] = False,
) -> None:
    """Drive a simulated visit without a window and write its summary."""
    gc.enable()
    from aequitone.handover.incoming.jobs import read_jobs
    from aequitone.headless import run as drive_visit
    from aequitone.standins.clock import PacedClock

    if jobs is not None and target is not None:
        raise ValueError("--target is for a run without --jobs; the list has a target for each job")
    clock = PacedClock(pace) if pace else None
    path = drive_visit(
        scenario,
        out,
        seed=seed,
        target=target,
        jobs=read_jobs(jobs) if jobs is not None else (),
        clock=clock,
        whole=whole,
        say=lambda text: print(text, file=sys.stderr),  # noqa: T201
    )
    print(path)  # noqa: T201


@app.command()
def bench(
    scenario: Annotated[str, typer.Argument(help="A scenario file, or the name of a shipped one, such as demo.")],
    seed: Annotated[int, typer.Option("--seed", min=0, help="Which unit of the screen, and which noise.")] = 0,
    pace: PaceOption = 1.0,
    port: Annotated[
        int, typer.Option("--port", min=0, max=65533, help="The first of three ports; 0 for any that are free.")
    ] = 0,
) -> None:
    """Serve a simulated meter, pattern source and screen on this machine, by docs/bench-protocol.md."""
    import time

    gc.enable()
    from aequitone.standins.bench import build_bench
    from aequitone.standins.clock import PacedClock
    from aequitone.standins.scenario import load_scenario
    from aequitone.standins.service.server import BenchServer

    stand_ins = build_bench(load_scenario(scenario), seed, clock=PacedClock(pace))
    with BenchServer(stand_ins, (port, port and port + 1, port and port + 2)) as server:
        for what, address in zip(("meter", "patterns", "screen"), server.addresses, strict=True):
            print(f"{what:9s} {address}", flush=True)  # noqa: T201
        print("Serving until Ctrl+C.", file=sys.stderr)  # noqa: T201
        try:
            while True:
                time.sleep(3600.0)
        except KeyboardInterrupt:
            return


@app.command()
def visit(
    meter: Annotated[
        str, typer.Option("--meter", help="The meter's address (docs/bridges.md has what it can be).")
    ],
    source: Annotated[str, typer.Option("--source", help="The pattern source's address.")],
    plan: Annotated[Path, typer.Option("--plan", help="What the visit is to do (docs/formats.md).")],
    out: Annotated[Path, typer.Option("--out", help="The folder for summary.json, the report and the logbook.")],
    screen: Annotated[
        str, typer.Option("--screen", help="The screen's address, where it turns its controls.")
    ] = "",
    by_hand: Annotated[bool, typer.Option("--by-hand", help="Turn the controls yourself, asked here.")] = False,
) -> None:
    """Make a visit without the window; the same command goes on with one that was interrupted.

    Exit codes: 0 done; 2 something is wrong with the plan, the folder or an instrument, as said; 3 left by you, to
    be gone on with.
    """
    gc.enable()
    from aequitone.procedures.runner import AbandonedError
    from aequitone.terminal.operator import TerminalOperator
    from aequitone.terminal.plan_file import read_plan
    from aequitone.terminal.visit import Addresses, make_visit

    if bool(screen) == by_hand:
        raise ValueError("Say either --screen with its address or --by-hand")
    operator = TerminalOperator(input, _say)
    try:
        path = make_visit(read_plan(plan), Addresses(meter, source, screen), out, operator, _say)
    except (AbandonedError, KeyboardInterrupt):
        _say("Left. Every reading is kept; the same command goes on from here.")
        raise typer.Exit(3) from None
    print(path)  # noqa: T201


@app.command()
def check(
    address: Annotated[str, typer.Argument(help="The address of an instrument, or a program (docs/bridges.md).")],
) -> None:
    """Say what an instrument is, how fast and noisy, and where it breaks the protocol: then exit code 1."""
    gc.enable()
    from aequitone.terminal.check import check_instrument

    faults = check_instrument(address, lambda text: print(text, flush=True))  # noqa: T201
    raise typer.Exit(1 if faults else 0)


def _say(text: str) -> None:
    print(text, file=sys.stderr, flush=True)  # noqa: T201


def _visit_of(logbook: Path | None, visit: int | None) -> "tuple[Logbook, int]":
    """A logbook that is there, and the number of a visit in it: the newest where none is said."""
    from aequitone.logbook import open_logbook

    path = logbook or own_logbook()
    if not path.exists():
        raise LookupError(f"There is no logbook {path}")
    book = open_logbook(path)
    latest = book.latest_visit()
    if latest is None:
        raise LookupError(f"There is no visit in {path} yet")
    return book, visit if visit is not None else latest.id


@app.command()
def export(
    kind: Annotated[
        str, typer.Argument(help="spreadsheet, archive, calendar, card, readings or json.", metavar="KIND")
    ],
    out: Annotated[Path, typer.Option("--out", help="The file, or a folder in which it gets a telling name.")],
    logbook: LogbookOption = None,
    visit: VisitOption = None,
) -> None:
    """Write a visit as a file for another program, another Aequitone, a calendar or a phone."""
    gc.enable()
    from aequitone.handover.files.exports import export_named

    wanted = export_named(kind)
    book, number = _visit_of(logbook, visit)
    path = out / wanted.name(book, number) if out.is_dir() else out
    wanted.write(book, number, path)
    print(path)  # noqa: T201


@app.command("import")
def import_visit(
    archive: Annotated[Path, typer.Argument(help="An archive or a JSON file that an Aequitone wrote.")],
    logbook: LogbookOption = None,
    controls: Annotated[
        str,
        typer.Option("--controls", help="Where controls differ: keep those “here”, or take the “file”'s."),
    ] = "ask",
) -> None:
    """Take a visit into the logbook, whole or not at all."""
    gc.enable()
    from aequitone.handover.files.archive import import_archive
    from aequitone.logbook import open_logbook

    take = {"ask": None, "here": False, "file": True}
    if controls not in take:
        raise ValueError(f"--controls is here or file, not {controls}")
    book = open_logbook(logbook or own_logbook())
    taken = import_archive(book, archive, take_controls=take[controls])
    print(f"Visit {taken.visit_id}, {taken.readings} readings.")  # noqa: T201


@app.command()
def report(
    out: Annotated[Path, typer.Option("--out", help="The folder for the report.")],
    logbook: LogbookOption = None,
    visit: VisitOption = None,
    glances: Annotated[
        bool, typer.Option("--glances", help="Readings also of what was watched while a control was turned.")
    ] = False,
) -> None:
    """Write the report, the readings and the two pictures of a visit."""
    gc.enable()
    from aequitone.handover.report import make_report

    book, number = _visit_of(logbook, visit)
    files = make_report(book, number, out, glances=glances)
    for file in (files.pdf, files.csv, files.before, files.after):
        if file is not None:
            print(file)  # noqa: T201


@app.command()
def licences() -> None:
    """List the parts that ship with the program, and their licences."""
    from aequitone.parts import parts

    for part in parts():
        print(part.line)  # noqa: T201


@app.command()
def diagnosis(
    out: Annotated[Path, typer.Option("--out", help="The file for the bug report.")] = Path(
        "aequitone-report.txt"
    ),
    logbook: LogbookOption = None,
) -> None:
    """Write a bug report without client data: versions, what the logbook holds in numbers, and the log."""
    from aequitone.logbook import open_logbook
    from aequitone.logbook.diagnosis import bug_report_of

    path = logbook or own_logbook()
    book = open_logbook(path) if path.exists() else None
    out.write_text(bug_report_of(book), "utf-8")
    print(out)  # noqa: T201


@app.command()
def pictures(
    out: Annotated[Path, typer.Option("--out", help="The folder for the pack.")],
    size: Annotated[str, typer.Option("--size", help="Pixels of the screen, as WIDTHxHEIGHT.")] = "3840x2160",
    depth: Annotated[int, typer.Option("--depth", help="Bit of the codes: 8 or 10.")] = 10,
    range_: Annotated[str, typer.Option("--range", help="limited or full.")] = "limited",
    png: Annotated[int, typer.Option("--png", help="Bit of the PNG files: 8 or 16.")] = 16,
    minutes: Annotated[
        float, typer.Option("--minutes", min=0.0, help="Videos too, which stand so long; 0 for none.")
    ] = 0.0,
    hdr: Annotated[bool, typer.Option("--hdr", help="PQ in a Rec.2020 container, with HDR10 metadata.")] = False,
) -> None:
    """Write the test pictures as a pattern pack, for a stick or a disc."""
    gc.enable()
    from aequitone.handover.files.pattern_pack import PackPlan, write_pack
    from aequitone.handover.files.picture_files import VideoPlan
    from aequitone.signal import Container, MasteringLight, Range, SignalFormat, Transfer

    if range_ not in set(Range):
        raise ValueError(f"--range is limited or full, not {range_}")
    wide, _, high = size.partition("x")
    if not (wide.isdecimal() and high.isdecimal()):
        raise ValueError(f"--size is WIDTHxHEIGHT, such as 3840x2160, not {size}")
    transfer, container = (Transfer.PQ, Container.REC2020) if hdr else (Transfer.GAMMA, Container.REC709)
    plan = PackPlan(
        int(wide),
        int(high),
        SignalFormat(depth, Range(range_), transfer=transfer, container=container),
        png,
        VideoPlan(minutes, MasteringLight() if hdr else None) if minutes else None,
    )

    def tell(done: int, all_: int, name: str) -> None:
        print(f"{done + 1} of {all_}: {name}", file=sys.stderr)  # noqa: T201

    print(write_pack(plan, out, tell).words)  # noqa: T201


def own_logbook() -> Path:
    """The user's own logbook."""
    from platformdirs import user_data_path

    return user_data_path("aequitone") / "logbook.sqlite"


if __name__ == "__main__":
    main()
