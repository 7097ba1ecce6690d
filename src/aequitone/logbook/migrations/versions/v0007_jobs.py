"""A visit holds jobs: what is wanted belongs to a job, and so does a pass"""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

_MOVED = ("memory_id", "target", "levels", "light", "stop_at", "formula", "bright", "dark")


def upgrade() -> None:
    op.create_table(
        "job",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("visit_id", sa.Integer(), sa.ForeignKey("visit.id", name="fk_job_visit"), nullable=False),
        sa.Column("memory_id", sa.Integer(), sa.ForeignKey("memory.id", name="fk_job_memory"), nullable=False),
        sa.Column("target", sa.String(), nullable=False),
        sa.Column("levels", sa.Integer(), nullable=False),
        sa.Column("light", sa.Float(), server_default="0", nullable=False),
        sa.Column("stop_at", sa.Float(), server_default="0.5", nullable=False),
        sa.Column("formula", sa.String(), server_default="ΔE 2000", nullable=False),
        sa.Column("bright", sa.Float(), server_default="80", nullable=False),
        sa.Column("dark", sa.Float(), server_default="30", nullable=False),
        sa.Column("left_out", sa.Integer(), server_default="0", nullable=False),
    )
    op.create_index("ix_job_visit_id", "job", ["visit_id"])
    columns = ", ".join(_MOVED)
    # An earlier visit is a visit of one job, of the same number.
    op.execute(f"INSERT INTO job (id, visit_id, {columns}) SELECT id, id, {columns} FROM visit ORDER BY id")
    with op.batch_alter_table("visit", schema=None) as batch_op:
        batch_op.drop_index("ix_visit_memory_id")
        for column in _MOVED:
            batch_op.drop_column(column)
        batch_op.add_column(sa.Column("job_id", sa.Integer(), server_default="0", nullable=False))
    op.execute("UPDATE visit SET job_id = id")
    with op.batch_alter_table("pass", schema=None) as batch_op:
        batch_op.add_column(sa.Column("job_id", sa.Integer(), server_default="0", nullable=False))
        batch_op.create_index("ix_pass_job_id", ["job_id"])
    op.execute("UPDATE pass SET job_id = visit_id")
    for table in ("debt", "check"):
        with op.batch_alter_table(table, schema=None) as batch_op:
            batch_op.add_column(sa.Column("memory_id", sa.Integer(), server_default="0", nullable=False))


def downgrade() -> None:
    raise NotImplementedError("a visit of several jobs has no place in the layout before")
