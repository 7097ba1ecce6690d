"""The sheets of a visit's copies: what each memory of another input still needs to be as the finished one."""

from dataclasses import dataclass

from aequitone.advice.copying import CopyLine, copy_lines, to_do
from aequitone.logbook.settings.copies import CopyRecord
from aequitone.passes.comparing.verify import verified
from aequitone.passes.snapshot import Snapshot
from aequitone.procedures.grey.verify import Verified


@dataclass(frozen=True)
class CopySheet:
    """A copy, with its lines and what a look at it said."""

    copy: CopyRecord
    lines: tuple[CopyLine, ...]
    look: Verified | None = None
    """What was found when it was looked at last; None where it was not."""

    @property
    def looked(self) -> str:
        """What is said of that look; "" where there was none."""
        return self.look.words if self.look is not None else ""

    @property
    def left(self) -> tuple[CopyLine, ...]:
        """What has not been entered or looked at."""
        return tuple(line for line in to_do(self.lines) if line.role.key not in self.copy.ticked)

    @property
    def wrong(self) -> bool:
        """Whether the last look at it found something."""
        return self.look is not None and not self.look.same

    @property
    def done(self) -> int:
        """How many lines have been entered or looked at."""
        return len(to_do(self.lines)) - len(self.left)


def copy_sheets(snapshot: Snapshot) -> tuple[CopySheet, ...]:
    """A sheet for each copy of the job that is worked on, with its settings."""
    looks = verified(snapshot)
    ids = [job.id for job in snapshot.jobs]
    number = ids.index(snapshot.visit.job_id) + 1 if snapshot.visit.job_id in ids else 1
    return tuple(
        CopySheet(
            copy,
            copy_lines(
                snapshot.controls,
                snapshot.settings,
                same_input=copy.input == snapshot.visit.input,
                hdr=snapshot.hdr,
                applied=copy.applied,
            ),
            looks.get(copy.place),
        )
        for copy in snapshot.copies
        if copy.job == number
    )
