"""the balance of an entry is added up once, by the last of its lines, not once for each of them"""

from alembic import op

revision = "0b6d4f9a2c73"
down_revision = "e7c2b91f5a40"
branch_labels = None
depends_on = None

FUNCTION = """
create or replace function entry_balances() returns trigger language plpgsql as $$
declare
    entry bigint := case when tg_op = 'DELETE' then old.entry_id else new.entry_id end;
    off numeric;
begin
{once}    select sum(amount) into off from posting where entry_id = entry;
    if off <> 0 then
        raise exception 'entry % is off by %', entry, off using errcode = 'check_violation';
    end if;
    return null;
end $$;
"""
ONCE = """    if tg_op = 'INSERT' and exists (select from posting where entry_id = entry and id > new.id) then
        return null;
    end if;
"""


def upgrade() -> None:
    op.get_bind().exec_driver_sql(FUNCTION.format(once=ONCE).replace("%", "%%"))
    op.execute("drop index ix_posting_entry_id")
    op.execute("create index ix_posting_entry on posting (entry_id, id)")


def downgrade() -> None:
    op.get_bind().exec_driver_sql(FUNCTION.format(once="").replace("%", "%%"))
    op.execute("drop index ix_posting_entry")
    op.execute("create index ix_posting_entry_id on posting (entry_id)")
