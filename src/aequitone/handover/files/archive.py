"""A visit as one file: a zip of its JSON, readings, report and pictures, that another Aequitone takes in."""

import contextlib
import tempfile
import zipfile
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy.exc import SQLAlchemyError

from aequitone.errors import AequitoneError
from aequitone.handover.errors import ImportFailedError, NothingToReportError
from aequitone.handover.files.visit_file import visit_read, visit_text
from aequitone.handover.incoming.tables import NOTHING
from aequitone.handover.report import make_report
from aequitone.logbook import Logbook, PassRecord, open_logbook
from aequitone.logbook.carrying import OtherControl, Rows
from aequitone.logbook.storage.opening import LogbookError
from aequitone.passes import KeptError, from_json, load_as_given, pass_type
from aequitone.whole_file import made_beside

VISIT = "visit.json"
_LARGEST = 200_000_000
# What a row of the right form can bring about all the same.
_UNUSABLE = (
    LogbookError,
    KeptError,
    SQLAlchemyError,
    ValueError,
    TypeError,
    LookupError,
    AttributeError,
    OverflowError,
)
# A date that is in every zip, so that the same visit makes the same file.
_DATE = (2000, 1, 1, 0, 0, 0)


class ConflictError(AequitoneError):
    """The screen has other controls here than in the file; the message says which, and what can be chosen."""

    def __init__(self, differing: Sequence[OtherControl], where: str) -> None:
        told = "; ".join(control.words for control in differing[:3])
        more = f"; and {len(differing) - 3} more" if len(differing) > 3 else ""
        super().__init__(
            f"{where} has other limits or names for controls of this screen: {told}{more}. Keep those of this "
            f"logbook, or take those of the file. {NOTHING}"
        )
        self.differing = tuple(differing)


@dataclass(frozen=True)
class Imported:
    """A visit that was taken in, by its number here, and how many readings it has."""

    visit_id: int
    readings: int


def write_archive(logbook: Logbook, visit_id: int, path: Path) -> None:
    """Write the archive of a visit. Raises LookupError where there is none."""
    text = visit_text(logbook.carrying.rows(visit_id))
    with tempfile.TemporaryDirectory() as folder, made_beside(path) as fresh:
        beside = Path(folder)
        # A visit that has only begun can be carried on elsewhere too.
        with contextlib.suppress(NothingToReportError):
            make_report(logbook, visit_id, beside)
        with zipfile.ZipFile(fresh, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr(zipfile.ZipInfo(VISIT, _DATE), text, zipfile.ZIP_DEFLATED)
            for file in sorted(beside.iterdir()):
                archive.writestr(zipfile.ZipInfo(file.name, _DATE), file.read_bytes(), zipfile.ZIP_DEFLATED)


def read_archive(path: Path) -> Rows:
    """The visit in an archive, or in a visit.json by itself. Raises ImportFailedError with a sentence."""
    where = path.name
    try:
        if path.stat().st_size > _LARGEST:
            raise ImportFailedError(
                f"{where} is larger than {_LARGEST // 1_000_000} MB, so it is no visit. {NOTHING}"
            )
        text = path.read_bytes() if path.suffix.lower() == ".json" else _member(path)
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError, ValueError) as error:
        raise ImportFailedError(f"{where} is no archive that can be read: {error}. {NOTHING}") from error
    except OSError as error:
        raise ImportFailedError(f"{where} cannot be read: {error.strerror or error}. {NOTHING}") from error
    return visit_read(text, where)


def _member(path: Path) -> bytes:
    with zipfile.ZipFile(path) as archive:
        if VISIT not in archive.namelist():
            raise ImportFailedError(f"{path.name} holds no {VISIT}, so it is no visit. {NOTHING}")
        with archive.open(VISIT) as member:
            text = member.read(_LARGEST + 1)
    if len(text) > _LARGEST:
        raise ImportFailedError(f"{VISIT} in {path.name} is larger than {_LARGEST // 1_000_000} MB. {NOTHING}")
    return text


def import_archive(logbook: Logbook, path: Path, *, take_controls: bool | None = None) -> Imported:
    """Take a visit in from an archive: whole, or not at all.

    `take_controls`: where the screen's controls differ, whether those of the file are taken; None to be asked.
    Raises ImportFailedError, ConflictError or VisitThereError with a sentence.
    """
    rows = read_archive(path)
    differing = logbook.carrying.differing(rows)
    if differing and take_controls is None:
        raise ConflictError(differing, path.name)
    _try(rows, path.name)
    visit_id = logbook.carrying.enter(rows, take_controls=bool(take_controls))
    return Imported(visit_id, len(rows["reading"]))


def _try(rows: Rows, where: str) -> None:
    """Enter a visit into a logbook of its own and look at all of it, before it is let into another."""
    with tempfile.TemporaryDirectory() as folder:
        logbook = open_logbook(Path(folder) / "logbook.sqlite")
        try:
            visit_id = logbook.carrying.enter(rows)
            for job in logbook.jobs.of(visit_id):
                snapshot = load_as_given(logbook, visit_id, job.id)
                for record in snapshot.passes:
                    _understand(record)
            if logbook.unreadable.words:
                raise ImportFailedError(
                    f"{where} cannot be used: {logbook.unreadable.words[0]} cannot be read. {NOTHING}"
                )
        except _UNUSABLE as error:
            raise ImportFailedError(f"{where} cannot be used: {_first_line(error)}. {NOTHING}") from error
        finally:
            logbook.close()


def _understand(record: PassRecord) -> None:
    """Raise KeptError where this version has no form for the plan or the result of a pass."""
    kind = pass_type(record.kind)
    from_json(kind.plan, record.plan)
    if record.result is not None:
        from_json(kind.result, record.result)


def _first_line(error: Exception) -> str:
    return (str(error).splitlines() or [type(error).__name__])[0].rstrip(".")[:200]
