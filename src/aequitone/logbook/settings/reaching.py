"""Where what was noted in one memory holds: in it alone, on its input, or on the whole screen."""

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from aequitone.advice.roles import Role, is_role, role_of
from aequitone.advice.scopes import Reach, usual_scope
from aequitone.advice.technology import Technology, technology_of
from aequitone.logbook import model

_OFF = "off-"
# Lines of the checklist that are answered for each memory, or for each input; the others are the screen's.
_OF_MEMORY = frozenset({"mode", "choice", "gamma", "reset"})
_OF_INPUT = frozenset({"source", "range", "geometry"})


@dataclass(frozen=True)
class Holding:
    """The memory that is worked in, its input, and the inputs of all others of the screen."""

    memory_id: int
    input_id: int
    inputs: dict[int, int]
    technology: Technology

    def setting(self, control: model.Control, memory_id: int) -> bool:
        """Whether a setting of a control that was noted in a memory holds here."""
        return self._holds(self._reach(control), memory_id)

    def check(self, key: str, memory_id: int) -> bool:
        """Whether a line of the checklist that was answered in a memory is answered here."""
        role = key.removeprefix(_OFF)
        if key.startswith(_OFF) and is_role(role):
            return self._holds(usual_scope(role_of(role), self.technology).reach, memory_id)
        if key in _OF_MEMORY:
            return self._holds(Reach.MEMORY, memory_id)
        return self._holds(Reach.INPUT if key in _OF_INPUT else Reach.SCREEN, memory_id)

    def _reach(self, control: model.Control) -> Reach:
        if control.role == Role.PICTURE_MODE.key:
            # It chooses among memories: each has its own.
            return Reach.MEMORY
        if control.reach:
            return Reach(control.reach)
        return usual_scope(role_of(control.role), self.technology).reach

    def _holds(self, reach: Reach, memory_id: int) -> bool:
        # Rows from before memories could change within a visit have none.
        if memory_id in (0, self.memory_id) or reach is Reach.SCREEN:
            return True
        return reach is Reach.INPUT and self.inputs.get(memory_id) == self.input_id


def holding(session: Session, visit_id: int, job_id: int | None = None) -> Holding:
    """Where a job of a visit works; the present one where none is said."""
    job = session.get_one(model.Job, job_id or session.get_one(model.Visit, visit_id).job_id)
    memory = session.get_one(model.Memory, job.memory_id)
    input_ = session.get_one(model.Input, memory.input_id)
    screen = session.get_one(model.Screen, input_.screen_id)
    query = (
        select(model.Memory.id, model.Memory.input_id)
        .join(model.Input, model.Memory.input_id == model.Input.id)
        .where(model.Input.screen_id == screen.id)
    )
    inputs = dict(session.execute(query).tuples().all())
    return Holding(memory.id, input_.id, inputs, technology_of(screen.technology))
