"""values apart from sheets: what the owner goes by, what was seen of prices, populations, what held things are worth"""

from alembic import op

revision = "9d4b17f3a06c"
down_revision = "2f8a6c0e91d7"
branch_labels = None
depends_on = None

SHAPE = """
alter table release add column price_revision integer default 1 not null,
    add constraint ck_release_price_revision check (price_revision > 0);
alter table release alter column price_revision drop default;
alter table simulation add column priced varchar(64) default '' not null;
alter table simulation alter column priced drop default;
alter table preference add column sheet_condition varchar(20) default 'NM' not null;
alter table preference alter column sheet_condition drop default;

create table value (
    id bigserial not null,
    version_id bigint,
    format_id bigint,
    item_id bigint,
    state varchar(60) not null,
    source varchar(10) not null,
    says varchar(10) not null,
    amount numeric(16, 6),
    currency varchar(3) not null,
    low numeric(16, 6),
    high numeric(16, 6),
    comps integer,
    day date not null,
    recorded_at timestamp with time zone default now() not null,
    taken_back_at timestamp with time zone,
    constraint pk_value primary key (id),
    constraint fk_value_version_id foreign key (version_id) references version (id),
    constraint fk_value_format_id foreign key (format_id) references format (id),
    constraint fk_value_item_id foreign key (item_id) references item (id),
    constraint ck_value_one_thing check (num_nonnulls(version_id, format_id, item_id) = 1),
    constraint ck_value_source check (source in ('owner', 'comps', 'sheet', 'borrowed', 'book')),
    constraint ck_value_says check (says in ('price', 'unknown', 'follows', 'released')),
    constraint ck_value_amount check ((says = 'price') = (amount is not null) and amount >= 0),
    constraint ck_value_spread check (low <= high and low >= 0 and comps >= 0),
    constraint ck_value_currency check (currency ~ '^[A-Z]{3}$')
);
create index ix_value_version_latest on value (version_id, state, source, id desc) where version_id is not null;
create index ix_value_format_latest on value (format_id, state, source, id desc) where format_id is not null;
create index ix_value_item_latest on value (item_id, source, id desc) where item_id is not null;

create table comp (
    id bigserial not null,
    version_id bigint,
    format_id bigint,
    kind varchar(10) not null,
    day date not null,
    price numeric(16, 3) not null,
    shipping numeric(16, 3),
    tax numeric(16, 3),
    currency varchar(3) not null,
    condition varchar(20),
    grader varchar(40),
    grade varchar(20),
    subgrades varchar(60),
    market varchar(60),
    bids integer,
    photo varchar(5),
    lot integer not null,
    note varchar(500),
    choice varchar(10),
    outside varchar(60),
    outside_id varchar(100),
    recorded_at timestamp with time zone default now() not null,
    constraint pk_comp primary key (id),
    constraint fk_comp_version_id foreign key (version_id) references version (id),
    constraint fk_comp_format_id foreign key (format_id) references format (id),
    constraint uq_comp_outside_outside_id unique (outside, outside_id),
    constraint ck_comp_one_thing check (num_nonnulls(version_id, format_id) = 1),
    constraint ck_comp_kind check (kind in ('sold', 'auction', 'own', 'ask', 'book_low', 'book_high')),
    constraint ck_comp_amounts check (price >= 0 and shipping >= 0 and tax >= 0 and lot > 0 and bids >= 0),
    constraint ck_comp_state check ((grader is null) = (grade is null) and num_nonnulls(condition, grader) <= 1),
    constraint ck_comp_photo check (photo in ('copy', 'stock')),
    constraint ck_comp_choice check (choice in ('keep', 'leave_out')),
    constraint ck_comp_outside check ((outside is null) = (outside_id is null)),
    constraint ck_comp_currency check (currency ~ '^[A-Z]{3}$')
);
create index ix_comp_version_id on comp (version_id, day) where version_id is not null;
create index ix_comp_format_id on comp (format_id, day) where format_id is not null;

create table population (
    id bigserial not null,
    version_id bigint not null,
    grader varchar(40) not null,
    grade varchar(20) not null,
    count integer not null,
    day date not null,
    recorded_at timestamp with time zone default now() not null,
    constraint pk_population primary key (id),
    constraint fk_population_version_id foreign key (version_id) references version (id),
    constraint uq_population_version_id_grader_grade_day unique (version_id, grader, grade, day),
    constraint ck_population_count check (count >= 0)
);

create table held_value (
    item_id bigint not null,
    amount numeric(16, 6),
    day date,
    source varchar(10),
    constraint pk_held_value primary key (item_id),
    constraint fk_held_value_item_id foreign key (item_id) references item (id),
    constraint ck_held_value_known check (num_nulls(amount, day, source) in (0, 3))
);
create index ix_held_value_falling on held_value (amount desc nulls last, item_id desc);
create index ix_held_value_rising on held_value (amount asc nulls last, item_id asc);
create index ix_item_name_id on item (name, id);

drop index ix_item_search_text;
alter table item drop column search_text;
alter table item add column search_text text generated always as (lower(name || ' ' || coalesce(number_text, '') || ' '
    || coalesce(serial, '') || ' ' || coalesce(place, ''))) stored;
create index ix_item_search_text on item using gin (search_text extensions.gin_trgm_ops);
"""

# What was observed of versions and formats: what the owner typed is pinned, the rest is a sheet's. What an owner took
# back was recorded as a word of its own then, and stays one. A price that follows ends what a sheet said before.
MOVED = """
insert into value (version_id, format_id, state, source, says, amount, currency, day, recorded_at)
select version_id, format_id, case when format_id is null then 'NM' else 'sealed' end,
    case when source = 'owner' then 'owner' else 'sheet' end, says, amount, currency, observed_on, recorded_at
from value_observation order by id;
drop table value_observation;

-- A sheet that came after what the owner typed was the last word then: it stays so.
update value v set taken_back_at = now() where v.source = 'owner' and exists (
    select from value later where later.source = 'sheet' and later.id > v.id
        and (later.version_id = v.version_id or later.format_id = v.format_id));

insert into value (item_id, state, source, says, amount, currency, day, recorded_at)
select i.id, coalesce(i.condition, 'NM'), case when i.session_id is null then 'owner' else 'sheet' end, 'price', i.value,
    coalesce((select currency from preference), 'EUR'), coalesce(i.acquired_on, i.made_at::date), i.made_at
from item i where i.value is not null and (i.session_id is null or i.version_id is null) order by i.id;
"""

# What a thing is worth now: what was said of it, else the price of its version or format, for as many as there are; in
# another currency it waits for a rate, which the next change brings.
HELD = """
create temporary table priced_now on commit drop as
select distinct on (latest.version_id, latest.format_id) latest.* from (
    select distinct on (version_id, format_id, source) * from value
    where item_id is null and taken_back_at is null order by version_id, format_id, source, id desc
) latest
where not (latest.source = 'sheet' and latest.says = 'follows')
order by latest.version_id, latest.format_id,
    case when latest.source = 'owner' then 0 when latest.says = 'price' then 1 else 2 end, latest.id desc;

insert into held_value (item_id, amount, day, source)
select i.id, worth.amount, case when worth.amount is null then null else worth.day end,
    case when worth.amount is null then null else worth.source end
from item i left join lateral (
    select said.amount, said.day, said.source, 0 as rank from (
        select * from value where item_id = i.id and taken_back_at is null order by id desc limit 1) said
    union all
    select case when own.says = 'price' then own.amount
                when own.id is null or own.says = 'follows'
                then greatest(parent.amount * l.price_multiple, coalesce(l.price_floor, 0)) end * i.count,
        coalesce(case when own.says = 'price' then own.day end, parent.day),
        case when own.says = 'price' then own.source else 'line' end, 1
    from version v join line l on l.id = v.line_id join release r on r.id = l.release_id
        left join priced_now own on own.version_id = v.id
        left join version pv on pv.card_id = v.card_id and pv.line_id = l.cards_of_id and pv.variant = ''
        left join priced_now parent on parent.version_id = pv.id and parent.says = 'price'
    where v.id = i.version_id and coalesce(r.currency, '') = coalesce((select currency from preference), 'EUR')
        and (own.says = 'price' or parent.amount * l.price_multiple is not null)
    union all
    select p.amount * i.count, p.day, p.source, 1 from priced_now p join format f on f.id = p.format_id
        join release r on r.id = f.release_id
    where p.format_id = i.format_id and p.says = 'price' and i.packs_gone = 0
        and coalesce(r.currency, '') = coalesce((select currency from preference), 'EUR')
    order by rank limit 1
) worth on true;
alter table item drop column value;
"""

BACK = """
alter table item add column value numeric(16, 3);
update item i set value = round(h.amount, 3) from held_value h where h.item_id = i.id;
drop index ix_item_name_id;
drop index ix_item_search_text;
alter table item drop column search_text;
alter table item add column search_text text generated always as (name || ' ' || coalesce(number_text, '') || ' '
    || coalesce(serial, '') || ' ' || coalesce(place, '')) stored;
create index ix_item_search_text on item using gin (search_text extensions.gin_trgm_ops);
drop table held_value; drop table population; drop table comp;
create table value_observation (
    id bigserial not null,
    version_id bigint,
    format_id bigint,
    says varchar(10) not null,
    amount numeric(16, 6),
    currency varchar(3) not null,
    observed_on date not null,
    source varchar(200) not null,
    recorded_at timestamp with time zone default now() not null,
    constraint pk_value_observation primary key (id),
    constraint fk_value_observation_version_id foreign key (version_id) references version (id),
    constraint fk_value_observation_format_id foreign key (format_id) references format (id),
    constraint ck_value_observation_one_thing check (num_nonnulls(version_id, format_id) = 1),
    constraint ck_value_observation_says check (says in ('price', 'unknown', 'follows')),
    constraint ck_value_observation_amount check ((says = 'price') = (amount is not null) and amount >= 0),
    constraint ck_value_observation_currency check (currency ~ '^[A-Z]{3}$')
);
create index ix_value_observation_version_latest on value_observation (version_id, id);
create index ix_value_observation_format_latest on value_observation (format_id, id);
insert into value_observation (version_id, format_id, says, amount, currency, observed_on, source, recorded_at)
select version_id, format_id, says, amount, currency, day, source, recorded_at from value
where item_id is null and says <> 'released' and taken_back_at is null and state in ('NM', 'sealed')
order by (source = 'owner'), id;
drop table value;
alter table preference drop column sheet_condition;
alter table simulation drop column priced;
alter table release drop column price_revision;
"""


def upgrade() -> None:
    for script in (SHAPE, MOVED, HELD):
        op.get_bind().exec_driver_sql(script)


def downgrade() -> None:
    op.get_bind().exec_driver_sql(BACK)
