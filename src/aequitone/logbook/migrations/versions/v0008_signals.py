"""The signal belongs to a job: depth and range; transfer and container are its target's"""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("job", sa.Column("depth", sa.Integer(), server_default="8", nullable=False))
    op.add_column("job", sa.Column("range", sa.String(), server_default="limited", nullable=False))
    # Until now every job of a visit had the signal of its bench.
    for name in ("depth", "range"):
        op.execute(
            f"UPDATE job SET {name} = coalesce((SELECT json_extract(visit.bench, '$.{name}') FROM visit "
            f"WHERE visit.id = job.visit_id AND json_valid(visit.bench)), {name})"
        )


def downgrade() -> None:
    with op.batch_alter_table("job", schema=None) as batch_op:
        batch_op.drop_column("range")
        batch_op.drop_column("depth")
