"""The first layout"""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:

    op.create_table(
        "client",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("name"),
    )
    op.create_table(
        "room",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("client_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(
            ["client_id"],
            ["client.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("client_id", "name"),
    )
    with op.batch_alter_table("room", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_room_client_id"), ["client_id"], unique=False)

    op.create_table(
        "screen",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("room_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("technology", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(
            ["room_id"],
            ["room.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("room_id", "name"),
    )
    with op.batch_alter_table("screen", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_screen_room_id"), ["room_id"], unique=False)

    op.create_table(
        "control",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("screen_id", sa.Integer(), nullable=False),
        sa.Column("role", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("lowest", sa.Integer(), nullable=False),
        sa.Column("highest", sa.Integer(), nullable=False),
        sa.Column("step", sa.Integer(), nullable=False),
        sa.Column("factory", sa.Integer(), nullable=True),
        sa.Column("choices", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["screen_id"],
            ["screen.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("screen_id", "role"),
    )
    with op.batch_alter_table("control", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_control_screen_id"), ["screen_id"], unique=False)

    op.create_table(
        "input",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("screen_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(
            ["screen_id"],
            ["screen.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("screen_id", "name"),
    )
    with op.batch_alter_table("input", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_input_screen_id"), ["screen_id"], unique=False)

    op.create_table(
        "memory",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("input_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(
            ["input_id"],
            ["input.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("input_id", "name"),
    )
    with op.batch_alter_table("memory", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_memory_input_id"), ["input_id"], unique=False)

    op.create_table(
        "visit",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("memory_id", sa.Integer(), nullable=False),
        sa.Column("target", sa.String(), nullable=False),
        sa.Column("levels", sa.Integer(), nullable=False),
        sa.Column("bench", sa.JSON(), nullable=False),
        sa.Column("started", sa.DateTime(), nullable=False),
        sa.Column("closed", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(
            ["memory_id"],
            ["memory.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    with op.batch_alter_table("visit", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_visit_memory_id"), ["memory_id"], unique=False)

    op.create_table(
        "pass",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("visit_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("plan", sa.JSON(), nullable=False),
        sa.Column("outcome", sa.String(), nullable=False),
        sa.Column("started", sa.DateTime(), nullable=False),
        sa.Column("ended", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(
            ["visit_id"],
            ["visit.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    with op.batch_alter_table("pass", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_pass_visit_id"), ["visit_id"], unique=False)

    op.create_table(
        "setting",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("visit_id", sa.Integer(), nullable=False),
        sa.Column("control_id", sa.Integer(), nullable=False),
        sa.Column("value", sa.Integer(), nullable=False),
        sa.Column("reason", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["control_id"],
            ["control.id"],
        ),
        sa.ForeignKeyConstraint(
            ["visit_id"],
            ["visit.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    with op.batch_alter_table("setting", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_setting_control_id"), ["control_id"], unique=False)
        batch_op.create_index(batch_op.f("ix_setting_visit_id"), ["visit_id"], unique=False)

    op.create_table(
        "move",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("pass_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("elapsed", sa.Float(), nullable=False),
        sa.Column("changes", sa.JSON(), nullable=False),
        sa.Column("expected", sa.JSON(), nullable=False),
        sa.Column("undoes", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(
            ["pass_id"],
            ["pass.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("pass_id", "seq"),
    )
    with op.batch_alter_table("move", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_move_pass_id"), ["pass_id"], unique=False)

    op.create_table(
        "reading",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("pass_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("elapsed", sa.Float(), nullable=False),
        sa.Column("patch", sa.String(), nullable=False),
        sa.Column("percent", sa.Float(), nullable=False),
        sa.Column("code_r", sa.Integer(), nullable=False),
        sa.Column("code_g", sa.Integer(), nullable=False),
        sa.Column("code_b", sa.Integer(), nullable=False),
        sa.Column("depth", sa.Integer(), nullable=False),
        sa.Column("range", sa.String(), nullable=False),
        sa.Column("window", sa.Float(), nullable=False),
        sa.Column("purpose", sa.String(), nullable=False),
        sa.Column("X", sa.Float(), nullable=False),
        sa.Column("Y", sa.Float(), nullable=False),
        sa.Column("Z", sa.Float(), nullable=False),
        sa.Column("sd_X", sa.Float(), nullable=False),
        sa.Column("sd_Y", sa.Float(), nullable=False),
        sa.Column("sd_Z", sa.Float(), nullable=False),
        sa.Column("repeats", sa.Integer(), nullable=False),
        sa.Column("seconds", sa.Float(), nullable=False),
        sa.Column("took", sa.Float(), nullable=False),
        sa.Column("scatter", sa.Float(), nullable=False),
        sa.ForeignKeyConstraint(
            ["pass_id"],
            ["pass.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("pass_id", "seq"),
    )
    with op.batch_alter_table("reading", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_reading_pass_id"), ["pass_id"], unique=False)

    op.create_table(
        "remark",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("pass_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("text", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(
            ["pass_id"],
            ["pass.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("pass_id", "seq"),
    )
    with op.batch_alter_table("remark", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_remark_pass_id"), ["pass_id"], unique=False)


def downgrade() -> None:

    with op.batch_alter_table("remark", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_remark_pass_id"))

    op.drop_table("remark")
    with op.batch_alter_table("reading", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_reading_pass_id"))

    op.drop_table("reading")
    with op.batch_alter_table("move", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_move_pass_id"))

    op.drop_table("move")
    with op.batch_alter_table("setting", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_setting_visit_id"))
        batch_op.drop_index(batch_op.f("ix_setting_control_id"))

    op.drop_table("setting")
    with op.batch_alter_table("pass", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_pass_visit_id"))

    op.drop_table("pass")
    with op.batch_alter_table("visit", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_visit_memory_id"))

    op.drop_table("visit")
    with op.batch_alter_table("memory", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_memory_input_id"))

    op.drop_table("memory")
    with op.batch_alter_table("input", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_input_screen_id"))

    op.drop_table("input")
    with op.batch_alter_table("control", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_control_screen_id"))

    op.drop_table("control")
    with op.batch_alter_table("screen", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_screen_room_id"))

    op.drop_table("screen")
    with op.batch_alter_table("room", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_room_client_id"))

    op.drop_table("room")
    op.drop_table("client")
