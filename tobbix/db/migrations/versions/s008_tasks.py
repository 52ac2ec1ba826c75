"""one kind of long work: simulations become tasks, which may be about anything"""

from alembic import op

revision = "4c6e02b81f9a"
down_revision = "9d4b17f3a06c"
branch_labels = None
depends_on = None

UP = """
alter table simulation rename to task;
alter sequence simulation_id_seq rename to task_id_seq;
alter table task rename constraint pk_simulation to pk_task;
alter table task rename constraint ck_simulation_state to ck_task_state;
alter table task rename constraint ck_simulation_progress to ck_task_progress;
alter index uq_simulation_alive rename to uq_task_alive;
alter table task add column belongs_to varchar(200);
update task t set belongs_to = 'release:' || r.key || '/' || coalesce(t.asked ->> 'format', '') from release r
where r.id = t.release_id;
alter table task alter column belongs_to set not null, drop column release_id, drop column revision, drop column priced,
    drop column seed;
create index ix_task_belongs_to on task (belongs_to);
update procrastinate_jobs set task_name = 'carry_out', args = jsonb_build_object('task', args -> 'simulation')
where task_name = 'simulate';
"""
DOWN = """
update procrastinate_jobs set task_name = 'simulate', args = jsonb_build_object('simulation', args -> 'task')
where task_name = 'carry_out';
drop index ix_task_belongs_to;
alter table task rename to simulation;
alter sequence task_id_seq rename to simulation_id_seq;
alter table simulation rename constraint pk_task to pk_simulation;
alter table simulation rename constraint ck_task_state to ck_simulation_state;
alter table simulation rename constraint ck_task_progress to ck_simulation_progress;
alter index uq_task_alive rename to uq_simulation_alive;
alter table simulation add column release_id bigint, add column revision integer default 1 not null,
    add column priced varchar(64) default '' not null, add column seed bigint default 1 not null;
update simulation s set release_id = r.id, seed = coalesce((s.asked ->> 'seed')::bigint, 1) from release r
where s.belongs_to like 'release:' || r.key || '/' || chr(37);
delete from simulation where release_id is null;
alter table simulation alter column release_id set not null, alter column revision drop default,
    alter column priced drop default, alter column seed drop default, drop column belongs_to,
    add constraint fk_simulation_release_id foreign key (release_id) references release (id) on delete cascade;
create index ix_simulation_release_id on simulation (release_id);
"""


def upgrade() -> None:
    op.get_bind().exec_driver_sql(UP)


def downgrade() -> None:
    op.get_bind().exec_driver_sql(DOWN)
