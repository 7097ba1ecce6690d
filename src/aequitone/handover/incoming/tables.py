"""Tables of text files, row by row: CGATS.17 and CSV. Only a row is held at a time."""

import csv
import re
from collections.abc import Iterator
from itertools import chain, islice
from typing import TextIO

from aequitone.handover.errors import ImportFailedError

Row = tuple[int, list[str]]
"""The number of the line, from 1, on which a row begins, and its cells; the first row has the headings."""

NOTHING = "Nothing was taken from it."
"""What every refusal ends with."""
_HEAD_LINES, _SAMPLE = 200, 4096
# A line of more letters is no line of a table, and a file of more lines is no file of readings: it would be gone
# through for longer than anybody waits.
_LONGEST, _MOST_LINES = 100_000, 1_000_000


def rows_of(file: TextIO, where: str) -> Iterator[Row]:
    """The rows of a table, its headings first; `where` names it in errors. Raises ImportFailedError."""
    lines = _lines(file, where)
    head = list(islice(lines, _HEAD_LINES))
    rows = _cgats if any(line.strip() == "BEGIN_DATA_FORMAT" for line in head) else _csv
    return rows(chain(head, lines), "".join(head)[:_SAMPLE], where)


def _lines(file: TextIO, where: str) -> Iterator[str]:
    number = 0
    while line := file.readline(_LONGEST):
        number += 1
        if len(line) == _LONGEST:
            raise ImportFailedError(f"{where}, line {number}: it is too long for a line of readings. {NOTHING}")
        if number > _MOST_LINES:
            raise ImportFailedError(f"{where} has more than {_MOST_LINES} lines. {NOTHING}")
        yield line


def _cgats(lines: Iterator[str], _sample: str, where: str) -> Iterator[Row]:
    """Columns and data of CGATS.17 (ISO 28178): keywords and data between their BEGIN and END lines."""
    heads: list[str] = []
    part, ended, begun = "", False, 0
    for number, line in enumerate(lines, 1):
        words = _words(line)
        if not words:
            continue
        if words[0] in ("BEGIN_DATA_FORMAT", "BEGIN_DATA"):
            if ended:
                raise ImportFailedError(
                    f"{where} holds more than one table; the second begins at line {number}. Save each as a file "
                    f"of its own. {NOTHING}"
                )
            part = words[0]
            if part == "BEGIN_DATA":
                begun = number
                yield number, heads
        elif words[0] in ("END_DATA_FORMAT", "END_DATA"):
            ended = ended or words[0] == "END_DATA"
            part = ""
        elif part == "BEGIN_DATA_FORMAT":
            heads += words
        elif part == "BEGIN_DATA":
            if len(words) != len(heads):
                raise ImportFailedError(
                    f"{where}, line {number}: {len(words)} values where the format names {len(heads)} columns. "
                    f"{NOTHING}"
                )
            yield number, words
    if not ended:
        raise ImportFailedError(f"{where} ends before its data do (no END_DATA). {NOTHING}")
    if not begun:
        raise ImportFailedError(f"{where} has no data (no BEGIN_DATA). {NOTHING}")


def _words(line: str) -> list[str]:
    bare = line if '"' in line else line.split("#", 1)[0]
    return [quoted or plain for quoted, plain in re.findall(r'"([^"]*)"|(\S+)', bare)]


def _csv(lines: Iterator[str], sample: str, where: str) -> Iterator[Row]:
    try:
        dialect = csv.Sniffer().sniff(sample, delimiters=",;\t")
    except csv.Error:
        dialect = csv.excel
    reader = csv.reader(lines, dialect)
    heads: list[str] | None = None
    try:
        begins = 1
        for row in reader:
            # A quoted cell may go over several lines: the row is where it begins.
            number, begins = begins, reader.line_num + 1
            if not any(row):
                continue
            if heads is None:
                heads = [head.strip() for head in row]
                yield number, heads
                continue
            if len(row) != len(heads):
                raise ImportFailedError(
                    f"{where}, line {number}: {len(row)} values under {len(heads)} headings. {NOTHING}"
                )
            yield number, row
    except csv.Error as error:
        raise ImportFailedError(f"{where} is no table ({error}). {NOTHING}") from error
    if heads is None:
        raise ImportFailedError(f"{where} is empty. {NOTHING}")
