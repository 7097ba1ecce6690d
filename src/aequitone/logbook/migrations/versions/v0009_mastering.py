"""A reading keeps the mastering peak that was named with its patch"""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("reading", sa.Column("mastering", sa.Float(), server_default="0", nullable=False))


def downgrade() -> None:
    with op.batch_alter_table("reading", schema=None) as batch_op:
        batch_op.drop_column("mastering")
