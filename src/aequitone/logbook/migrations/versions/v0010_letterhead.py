"""The head of the report, and a visit's notes"""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "letterhead",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), server_default="", nullable=False),
        sa.Column("address", sa.String(), server_default="", nullable=False),
        sa.Column("image", sa.LargeBinary(), nullable=True),
        sa.Column("colour", sa.String(), server_default="", nullable=False),
        sa.Column("paper", sa.String(), server_default="", nullable=False),
        sa.Column("exposure", sa.String(), server_default="", nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.add_column("visit", sa.Column("notes", sa.String(), server_default="", nullable=False))


def downgrade() -> None:
    with op.batch_alter_table("visit", schema=None) as batch_op:
        batch_op.drop_column("notes")
    op.drop_table("letterhead")
