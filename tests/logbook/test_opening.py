"""Making, recognising and bringing up to date: a logbook is there whole, or everything is as it was."""

import gzip
import os
import shutil
import sqlite3
import subprocess
import sys
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import pytest
from tests.contents import contents

from aequitone.logbook import Logbook, LogbookError, VisitRecord, open_logbook
from aequitone.logbook.storage import files, opening
from aequitone.logbook.storage.opening import REVISION

FIXTURES = Path(__file__).parents[1] / "passes" / "fixtures"
OLD = [f"{number:04d}" for number in range(1, int(REVISION))]


def older(folder: Path, version: str) -> Path:
    """A logbook as an earlier version left it."""
    path = folder / "logbook.sqlite"
    path.write_bytes(gzip.decompress((FIXTURES / f"layout-{version}.sqlite.gz").read_bytes()))
    return path


def running(code: str, *arguments: str) -> subprocess.Popen:
    """Another process, which begins when it is sent a line."""
    return subprocess.Popen(
        [sys.executable, "-c", f"import sys\nsys.stdin.readline()\n{code}", *arguments],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
    )


OPEN = (
    "from pathlib import Path\nfrom aequitone.logbook import open_logbook\nopen_logbook(Path(sys.argv[1])).close()"
)


@pytest.mark.parametrize("version", ["", *OLD[-1:]])
def test_several_starts_at_once_make_one_logbook(tmp_path: Path, version: str) -> None:
    path = older(tmp_path, version) if version else tmp_path / "logbook.sqlite"
    starts = [running(OPEN, str(path)) for _ in range(6)]
    for start in starts:
        assert start.stdin is not None
        start.stdin.write("go\n")
        start.stdin.flush()
    told = [start.communicate(timeout=120)[1] for start in starts]
    assert [start.returncode for start in starts] == [0] * 6, told
    copies = [f"logbook.layout-{version}.sqlite"] if version else []
    assert sorted(each.name for each in tmp_path.iterdir() if not each.name.startswith("logbook.sqlite-")) == [
        ".logbook.sqlite.lock",
        *copies,
        "logbook.sqlite",
    ]
    open_logbook(path).close()


# Where a process dies while a logbook is made, or changed to the layout of today.
DYING = """
import os
from pathlib import Path
from alembic.operations import Operations
from aequitone.logbook.storage import files, opening
left = [int(sys.argv[2])]
def dies(real):
    def called(*given, **named):
        left[0] -= 1
        if not left[0]:
            os._exit(9)
        return real(*given, **named)
    return called
for name in ("create_table", "add_column", "execute"):
    setattr(Operations, name, dies(getattr(Operations, name)))
for name in ("remove", "sync_folder"):
    setattr(files, name, dies(getattr(files, name)))
os.fsync = dies(os.fsync)
Path.replace = dies(Path.replace)
opening.open_logbook(Path(sys.argv[1])).close()
"""


@pytest.mark.parametrize("dies_at", [1, 2, 3, 5, 9, 14, 22, 30])
def test_a_start_that_is_killed_while_it_makes_a_logbook_leaves_none_or_a_whole_one(
    tmp_path: Path, dies_at: int
) -> None:
    path = tmp_path / "logbook.sqlite"
    process = running(DYING, str(path), str(dies_at))
    process.communicate("go\n", timeout=60)
    assert process.returncode == 9
    if path.exists():
        assert files.is_sound(path)
    logbook = open_logbook(path)
    assert logbook.latest_visit() is None
    logbook.close()
    assert {each.name for each in tmp_path.iterdir()} == {".logbook.sqlite.lock", "logbook.sqlite"}


@pytest.mark.parametrize("version", [OLD[0], OLD[-1]])
@pytest.mark.parametrize("dies_at", [1, 3, 4, 5, 6, 7])
def test_an_upgrade_that_is_killed_leaves_the_older_layout_and_goes_well_the_next_time(
    tmp_path: Path, version: str, dies_at: int
) -> None:
    path = older(tmp_path, version)
    before = contents(path)
    process = running(DYING, str(path), str(dies_at))
    process.communicate("go\n", timeout=60)
    assert process.returncode == 9
    assert contents(path) == before
    logbook = open_logbook(path)
    assert logbook.latest_visit() is not None
    logbook.close()
    copies = list(tmp_path.glob(f"logbook.layout-{version}*.sqlite"))
    assert copies
    assert all(contents(copy) == before for copy in copies)


def test_a_broken_copy_of_an_older_layout_is_not_trusted(tmp_path: Path) -> None:
    path = older(tmp_path, OLD[0])
    before = contents(path)
    copy = tmp_path / f"logbook.layout-{OLD[0]}.sqlite"
    copy.write_bytes(path.read_bytes()[: path.stat().st_size // 2])
    open_logbook(path).close()
    assert contents(copy) == before


def test_a_sound_copy_is_not_written_over(tmp_path: Path) -> None:
    path = older(tmp_path, OLD[0])
    copy = tmp_path / f"logbook.layout-{OLD[0]}.sqlite"
    copy.write_bytes(path.read_bytes())
    with closing(sqlite3.connect(copy)) as raw, raw:
        raw.execute("UPDATE client SET name = 'someone else'")
    kept = copy.read_bytes()
    before = contents(path)
    open_logbook(path).close()
    assert copy.read_bytes() == kept
    assert contents(tmp_path / f"logbook.layout-{OLD[0]}-2.sqlite") == before


def test_no_upgrade_without_a_copy(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = older(tmp_path, OLD[0])
    before = contents(path)

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(LogbookError, match="cannot be opened: No space left on device. Nothing was changed"):
        open_logbook(path)
    monkeypatch.undo()
    assert contents(path) == before
    assert not list(tmp_path.glob("*layout*"))
    open_logbook(path).close()


def test_a_disk_that_is_full_leaves_no_logbook_and_the_next_start_makes_one(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "logbook.sqlite"
    real = opening._engine

    def small(*given: object, **named: object) -> object:
        engine = real(*given, **named)
        from sqlalchemy import event

        @event.listens_for(engine, "connect")
        def _full(connection: sqlite3.Connection, _record: object) -> None:
            connection.execute("PRAGMA max_page_count = 12")

        return engine

    monkeypatch.setattr(opening, "_engine", small)
    with pytest.raises(LogbookError, match="full"):
        open_logbook(path)
    assert not path.exists()
    monkeypatch.undo()
    open_logbook(path).close()
    assert files.is_sound(path)


def _dangling(path: Path) -> None:
    path.symlink_to(path.with_name("nowhere.sqlite"))


def _folder(path: Path) -> None:
    path.mkdir()


@pytest.mark.parametrize(
    ("make", "words"),
    [(_dangling, "link to a file that is not there"), (os.mkfifo, "no file"), (_folder, "no file")],
)
def test_what_is_no_file_is_left_as_it_is(tmp_path: Path, make: Callable[[Path], None], words: str) -> None:
    path = tmp_path / "logbook.sqlite"
    make(path)
    before = path.lstat()
    with pytest.raises(LogbookError, match=words):
        open_logbook(path)
    assert path.lstat().st_ino == before.st_ino
    assert not (tmp_path / "nowhere.sqlite").exists()


def test_a_link_to_a_logbook_is_followed(logbook: Logbook, tmp_path: Path) -> None:
    logbook.close()
    link = tmp_path / "link.sqlite"
    link.symlink_to(logbook.path)
    open_logbook(link).close()
    assert link.is_symlink()


@pytest.mark.parametrize("log", ["DELETE", "WAL"])
def test_another_programs_database_is_refused_and_not_touched(tmp_path: Path, log: str) -> None:
    path = tmp_path / "other.sqlite"
    raw = sqlite3.connect(path)
    raw.execute(f"PRAGMA journal_mode={log}")
    raw.execute("CREATE TABLE recipe (name TEXT)")
    raw.commit()
    raw.close()
    before = {each.name: (each.read_bytes(), each.stat().st_mtime_ns) for each in tmp_path.iterdir()}
    with pytest.raises(LogbookError, match="a database, but not a logbook"):
        open_logbook(path)
    assert {each.name: (each.read_bytes(), each.stat().st_mtime_ns) for each in tmp_path.iterdir()} == before


def copy_of(logbook: Logbook, to: Path) -> Path:
    logbook.close()
    shutil.copy2(logbook.path, to)
    return to


def test_a_newer_logbook_is_refused_and_left_alone(logbook: Logbook, tmp_path: Path) -> None:
    path = copy_of(logbook, tmp_path / "newer.sqlite")
    with sqlite3.connect(path) as raw:
        raw.execute("UPDATE alembic_version SET version_num = '9999'")
    raw.close()
    before = path.read_bytes()
    with pytest.raises(LogbookError, match=f"newer Aequitone.*9999.*{REVISION}.*left as it is"):
        open_logbook(path)
    assert path.read_bytes() == before


@pytest.mark.parametrize(
    "content", [b"this is no database at all, but a letter" * 50, b"SQLite format 3\x00" + b"\xff" * 5000]
)
def test_a_file_that_is_no_logbook_is_refused_and_left_alone(tmp_path: Path, content: bytes) -> None:
    path = tmp_path / "letter.sqlite"
    path.write_bytes(content)
    with pytest.raises(LogbookError, match="left as it is"):
        open_logbook(path)
    assert path.read_bytes() == content


def test_a_damaged_logbook_is_refused(logbook: Logbook, visit: VisitRecord, tmp_path: Path) -> None:
    path = copy_of(logbook, tmp_path / "damaged.sqlite")
    content = bytearray(path.read_bytes())
    content[8192 : len(content) - 4096 : 7] = b"\xa5" * len(content[8192 : len(content) - 4096 : 7])
    path.write_bytes(content)
    with pytest.raises(LogbookError, match=r"damaged|cannot be read"):
        open_logbook(path)


def test_a_folder_that_cannot_be_written_is_said(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("in the way")
    with pytest.raises(LogbookError, match="Nothing was changed"):
        open_logbook(tmp_path / "file" / "logbook.sqlite")
