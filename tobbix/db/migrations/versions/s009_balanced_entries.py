"""the database itself holds the balance of each entry, when the transaction that writes it ends"""

from alembic import op

revision = "b83a5d1e7f42"
down_revision = "4c6e02b81f9a"
branch_labels = None
depends_on = None

UP = """
create function entry_balances() returns trigger language plpgsql as $$
declare
    entry bigint := case when tg_op = 'DELETE' then old.entry_id else new.entry_id end;
    off numeric;
begin
    select sum(amount) into off from posting where entry_id = entry;
    if off <> 0 then
        raise exception 'entry % is off by %', entry, off using errcode = 'check_violation';
    end if;
    return null;
end $$;
create constraint trigger posting_balances after insert or update or delete on posting
    deferrable initially deferred for each row execute function entry_balances();
"""
DOWN = """
drop trigger posting_balances on posting;
drop function entry_balances();
"""


def upgrade() -> None:
    op.get_bind().exec_driver_sql(UP.replace("%", "%%"))


def downgrade() -> None:
    op.get_bind().exec_driver_sql(DOWN)
