"""Debts and checks of a visit, the light its school wants, and what stands on a screen's plate"""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None

_SCREEN = ("size", "hours", "firmware", "serial")


def upgrade() -> None:
    op.create_table(
        "debt",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("visit_id", sa.Integer(), nullable=False),
        sa.Column("control_id", sa.Integer(), nullable=False),
        sa.Column("from_value", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("answer", sa.String(), nullable=False, server_default=""),
        sa.Column("answered", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["visit_id"], ["visit.id"]),
        sa.ForeignKeyConstraint(["control_id"], ["control.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "check",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("visit_id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("detail", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["visit_id"], ["visit.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_debt_visit_id", "debt", ["visit_id"])
    op.create_index("ix_check_visit_id", "check", ["visit_id"])
    op.add_column("visit", sa.Column("light", sa.Float(), nullable=False, server_default="0"))
    for name in _SCREEN:
        op.add_column("screen", sa.Column(name, sa.String(), nullable=False, server_default=""))


def downgrade() -> None:
    with op.batch_alter_table("screen", schema=None) as batch_op:
        for name in _SCREEN:
            batch_op.drop_column(name)
    with op.batch_alter_table("visit", schema=None) as batch_op:
        batch_op.drop_column("light")
    op.drop_table("check")
    op.drop_table("debt")
