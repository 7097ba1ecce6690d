"""By which formula white balance is to stop, and at which two levels"""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("visit", sa.Column("formula", sa.String(), nullable=False, server_default="ΔE 2000"))
    op.add_column("visit", sa.Column("bright", sa.Float(), nullable=False, server_default="80"))
    op.add_column("visit", sa.Column("dark", sa.Float(), nullable=False, server_default="30"))


def downgrade() -> None:
    with op.batch_alter_table("visit", schema=None) as batch_op:
        for name in ("formula", "bright", "dark"):
            batch_op.drop_column(name)
