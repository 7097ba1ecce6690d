"""Instruments, corrections, what a pass was measured with, and what codes mean"""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "instrument",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("address", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("serial", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("kind", "address"),
    )
    op.create_table(
        "correction",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("meter", sa.String(), nullable=False),
        sa.Column("reference", sa.String(), nullable=False),
        sa.Column("technology", sa.String(), nullable=False),
        sa.Column("screen", sa.String(), nullable=False),
        sa.Column("method", sa.String(), nullable=False),
        sa.Column("matrix", sa.JSON(), nullable=False),
        sa.Column("fit_uv", sa.Float(), nullable=False),
        sa.Column("fit_light", sa.Float(), nullable=False),
        sa.Column("made", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    # Every reading of the first layout was SDR in Rec.709, taken whole.
    op.add_column("reading", sa.Column("transfer", sa.String(), nullable=False, server_default="gamma"))
    op.add_column("reading", sa.Column("container", sa.String(), nullable=False, server_default="rec709"))
    op.add_column("reading", sa.Column("rejected", sa.Integer(), nullable=False, server_default="0"))
    op.add_column("pass", sa.Column("bench", sa.JSON(), nullable=False, server_default="{}"))


def downgrade() -> None:
    for table, columns in (("pass", ("bench",)), ("reading", ("rejected", "container", "transfer"))):
        with op.batch_alter_table(table, schema=None) as batch_op:
            for column in columns:
                batch_op.drop_column(column)
    op.drop_table("correction")
    op.drop_table("instrument")
