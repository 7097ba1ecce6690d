"""By which formula white balance is to stop"""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("visit", sa.Column("formula", sa.String(), nullable=False, server_default="ΔE 2000"))


def downgrade() -> None:
    with op.batch_alter_table("visit", schema=None) as batch_op:
        batch_op.drop_column("formula")
