"""What controls act on, what hangs on inputs, projectors' throw and gain, and clients put away"""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

_WORDS = {"control": ("reach", "signals", "copied"), "input": ("device",), "screen": ("throw", "gain")}

_OTHERS = {"client": ("archived",), "setting": ("memory_id",), "reading": ("shape",), "visit": ("stop_at",)}


def upgrade() -> None:
    for table, names in _WORDS.items():
        for name in names:
            op.add_column(table, sa.Column(name, sa.String(), nullable=False, server_default=""))
    op.add_column("setting", sa.Column("memory_id", sa.Integer(), nullable=False, server_default="0"))
    op.add_column("visit", sa.Column("stop_at", sa.Float(), nullable=False, server_default="0.5"))
    op.add_column("reading", sa.Column("shape", sa.String(), nullable=False, server_default="window"))
    op.add_column("client", sa.Column("archived", sa.Integer(), nullable=False, server_default="0"))


def downgrade() -> None:
    for table, names in (_WORDS | _OTHERS).items():
        with op.batch_alter_table(table, schema=None) as batch_op:
            for name in names:
                batch_op.drop_column(name)
