"""documents that entries and histories hang on, parties, parcels both ways, labels, photos, minutes, predictions; what
moved no money is booked too, so that it can be taken back"""

from alembic import op

revision = "d1f0a7c4b925"
down_revision = "b83a5d1e7f42"
branch_labels = None
depends_on = None

SHAPE = """
create table party (
    id bigserial not null,
    name varchar(200) not null,
    roles varchar(10)[] not null,
    note varchar(500),
    constraint pk_party primary key (id),
    constraint uq_party_name unique (name),
    constraint ck_party_roles
        check (roles <@ array['friend', 'seller', 'buyer', 'grader', 'carrier', 'market']::varchar[])
);
create table document (
    id bigserial not null,
    kind varchar(12) not null,
    day date not null,
    party_id bigint,
    state varchar(10) not null,
    version integer not null,
    text varchar(500) not null,
    note varchar(500),
    once varchar(64),
    made_at timestamp with time zone default now() not null,
    of_purchase bigint,
    of_session bigint,
    of_entry bigint,
    constraint pk_document primary key (id),
    constraint uq_document_once unique (once),
    constraint fk_document_party_id foreign key (party_id) references party (id),
    constraint ck_document_kind check (kind in
        ('purchase', 'opening', 'import', 'correction', 'submission', 'order', 'trade', 'gift', 'parcel_bill')),
    constraint ck_document_state check (state in
        ('drafted', 'running', 'paused', 'ordered', 'paid', 'sent', 'received', 'disputed', 'returned', 'done',
         'undone'))
);
create index ix_document_party_id on document (party_id);
create index ix_document_kind_day on document (kind, day);

alter table purchase add column document_id bigint;
alter table opening_session add column document_id bigint,
    add column purpose varchar(15) default 'entertainment' not null,
    add constraint ck_opening_session_purpose
        check (purpose in ('entertainment', 'gift', 'giveaway', 'publicity', 'donation'));
alter table entry add column document_id bigint, add column method varchar(10),
    add constraint ck_entry_method check (method in ('value', 'equal', 'count', 'hand', 'residual'));
alter table item_event add column count integer;
alter table charge add column document_id bigint, add column entry_id bigint, drop constraint ck_charge_kind,
    add constraint ck_charge_kind
        check (kind in ('price', 'premium', 'shipping', 'tax', 'duty', 'service', 'other', 'refund'));
alter table parcel add column document_id bigint, add column direction varchar(3), add column state varchar(10),
    add column carrier_id bigint, add column sent_on date;
alter table posting add column party_id bigint;
alter table comp add column eye_appeal smallint,
    add constraint ck_comp_eye_appeal check (eye_appeal between -1 and 1);
alter table weight add column taken_back_at timestamp with time zone;
alter table redemption add column taken_back_at timestamp with time zone;
alter table item drop constraint ck_item_kind, drop constraint ck_item_state;
update item set state = 'away' where state = 'at_grading';
update item_event set state = 'away' where state = 'at_grading';
alter table item add column owner_id bigint, add column eye_appeal smallint,
    add constraint ck_item_kind check (kind in ('sealed', 'card', 'stack', 'supply', 'other')),
    add constraint ck_item_state check (state in
        ('in_transit', 'held', 'away', 'opened', 'sold', 'traded', 'given_away', 'lost', 'returned', 'joined', 'used_up',
         'undone')),
    add constraint ck_item_owner check (owner_id is null or basis is null),
    add constraint ck_item_eye_appeal check (eye_appeal between -1 and 1),
    add constraint fk_item_owner_id foreign key (owner_id) references party (id);
create index ix_item_owner_id on item (owner_id);

alter table value add column entry_id bigint,
    add constraint fk_value_entry_id foreign key (entry_id) references entry (id);
create index ix_value_entry_id on value (entry_id);

create table parcel_item (
    parcel_id bigint not null,
    item_id bigint not null,
    constraint pk_parcel_item primary key (parcel_id, item_id),
    constraint fk_parcel_item_parcel_id foreign key (parcel_id) references parcel (id),
    constraint fk_parcel_item_item_id foreign key (item_id) references item (id)
);
create index ix_parcel_item_item_id on parcel_item (item_id);
create table minutes (
    id bigserial not null,
    document_id bigint not null,
    day date not null,
    minutes numeric(8, 1) not null,
    what varchar(100) not null,
    constraint pk_minutes primary key (id),
    constraint fk_minutes_document_id foreign key (document_id) references document (id),
    constraint ck_minutes_minutes check (minutes > 0)
);
create index ix_minutes_document_id on minutes (document_id);
create table label (
    id bigserial not null,
    item_id bigint not null,
    grader_id bigint not null,
    grade varchar(20) not null,
    subgrades jsonb,
    certificate varchar(60),
    day date not null,
    entry_id bigint not null,
    removed_by_id bigint,
    constraint pk_label primary key (id),
    constraint fk_label_item_id foreign key (item_id) references item (id),
    constraint fk_label_grader_id foreign key (grader_id) references party (id),
    constraint fk_label_entry_id foreign key (entry_id) references entry (id),
    constraint fk_label_removed_by_id foreign key (removed_by_id) references entry (id)
);
create index ix_label_item_id on label (item_id);
create index ix_label_grader_id on label (grader_id);
create index ix_label_entry_id on label (entry_id);
create index ix_label_removed_by_id on label (removed_by_id);
create table photo (
    id bigserial not null,
    item_id bigint not null,
    side varchar(6) not null,
    media varchar(20) not null,
    width integer not null,
    height integer not null,
    dpi numeric(9, 3),
    content bytea not null,
    thumbnail bytea not null,
    made_at timestamp with time zone default now() not null,
    constraint pk_photo primary key (id),
    constraint fk_photo_item_id foreign key (item_id) references item (id),
    constraint ck_photo_side check (side in ('front', 'back', 'detail')),
    constraint ck_photo_sizes check (width > 0 and height > 0 and dpi > 0)
);
create index ix_photo_item_id on photo (item_id);
create table prediction (
    id bigserial not null,
    item_id bigint not null,
    document_id bigint not null,
    what varchar(5) not null,
    estimate double precision,
    low double precision,
    high double precision,
    chances jsonb,
    day date not null,
    made_at timestamp with time zone default now() not null,
    constraint pk_prediction primary key (id),
    constraint fk_prediction_item_id foreign key (item_id) references item (id),
    constraint fk_prediction_document_id foreign key (document_id) references document (id),
    constraint ck_prediction_what check (what in ('grade', 'price', 'days')),
    constraint ck_prediction_grade check ((what = 'grade') = (chances is not null)),
    constraint ck_prediction_estimate check ((what = 'grade') = (estimate is null))
);
create index ix_prediction_item_id on prediction (item_id);
create index ix_prediction_document_id on prediction (document_id);
"""

# Everything that was booked gets its document; what moved no money, an entry without lines.
ROWS = """
insert into party (name, roles)
    select name, array_agg(distinct role order by role) from (
        select btrim(seller) as name, 'seller'::varchar as role from purchase where btrim(seller) <> ''
        union all select btrim(carrier), 'carrier' from parcel where btrim(carrier) <> '') said
    group by name order by name;

insert into document (kind, day, party_id, state, version, text, note, once, made_at, of_purchase)
    select 'purchase', p.bought_on, (select id from party where name = btrim(p.seller)), p.state, p.version, p.name,
        p.note, p.once, p.made_at, p.id from purchase p order by p.id;
insert into document (kind, day, state, version, text, note, once, made_at, of_session)
    select 'opening', s.started_on, s.state, s.version, i.name, s.note,
        case when exists (select from purchase p where p.once = s.once) then null else s.once end, s.made_at, s.id
    from opening_session s join item i on i.id = s.item_id order by s.id;
update purchase p set document_id = d.id from document d where d.of_purchase = p.id;
update opening_session s set document_id = d.id from document d where d.of_session = s.id;

insert into document (kind, day, state, version, text, made_at, of_entry)
    select case event when 'opening_balance' then 'import' else 'correction' end, day, 'done', 1, text, made_at, id
    from entry where purchase_id is null and session_id is null order by id;
update entry e set document_id = d.id from document d
    where d.id = coalesce((select id from document where of_session = e.session_id),
        (select id from document where of_purchase = e.purchase_id), (select id from document where of_entry = e.id));

create temporary table act on commit drop as
    select row_number() over (order by v.made_at, min(v.id)) as n, v.made_at, v.day, v.event, v.text,
        case when v.event in ('opening', 'undo', 'division') then max(i.session_id) end as session_id,
        max(i.purchase_id) as purchase_id, null::bigint as document_id, null::bigint as entry_id
    from item_event v join item i on i.id = v.item_id
    where v.entry_id is null and (v.event <> 'correction' or v.text like 'here again: %'
        or v.text like 'its cost is found: %')
    group by v.made_at, v.day, v.event, v.text;
insert into document (kind, day, state, version, text, made_at, of_entry)
    select case event when 'opening_balance' then 'import' else 'correction' end, day, 'done', 1, text, made_at, -n
    from act where purchase_id is null and session_id is null order by n;
update act set document_id = coalesce((select id from document where of_session = act.session_id),
    (select id from document where of_purchase = act.purchase_id), (select id from document where of_entry = -act.n));
alter table entry add column act bigint;
insert into entry (day, event, text, document_id, made_at, act)
    select day, event, text, document_id, made_at, n from act order by n;
update item_event v set entry_id = e.id from act a join entry e on e.act = a.n
    where v.entry_id is null and (v.made_at, v.day, v.event, v.text) = (a.made_at, a.day, a.event, a.text);
alter table entry drop column act;
insert into entry (day, event, text, document_id, made_at)
    select d.day, 'purchase', 'bought: ' || left(d.text, 490), d.id, d.made_at from document d
    where d.kind = 'purchase' and not exists (select from entry e where e.document_id = d.id and e.event = 'purchase')
    order by d.id;
update entry u set reverses_id = (select max(o.id) from entry o
        where o.document_id = u.document_id and o.event = 'opening' and o.made_at < u.made_at)
    where u.event = 'undo' and u.reverses_id is null and u.text like 'taken back: opening of %'
        and not exists (select from entry r where r.reverses_id = (select max(o.id) from entry o
            where o.document_id = u.document_id and o.event = 'opening' and o.made_at < u.made_at));

-- How many there were after each event: a stack lost what was opened of it later.
create temporary table parted on commit drop as
    select c.id, c.parent_id, c.count, (select min(v.id) from item_event v where v.item_id = c.id) as first
    from item c where c.parent_id is not null and c.kind = 'sealed' and c.packs_gone = 0;
update item_event v set count = i.count + coalesce((select sum(p.count) from parted p
        where p.parent_id = i.id and p.first > v.id), 0)
    from item i where i.id = v.item_id;
-- What left a stack to be opened and was closed again is as old as the stack.
insert into item_event (item_id, made_at, day, event, text, state, count, basis, entry_id)
    select i.id, f.made_at, f.day, f.event, f.text, 'held', i.count, i.basis, f.entry_id
    from parted p join item i on i.id = p.id
    join lateral (select * from item_event v where v.item_id = p.parent_id and v.entry_id is not null
        order by v.entry_id limit 1) f on true
    where i.state not in ('opened', 'undone');

update entry e set method = p.method from purchase p where p.document_id = e.document_id and (e.event = 'division'
    or e.id = (select min(o.id) from entry o where o.document_id = e.document_id and o.event = 'purchase'));
update charge c set document_id = p.document_id from purchase p where p.id = c.purchase_id;
create temporary table booked on commit drop as
    select c.id as charge_id, c.document_id, c.kind = 'refund' as back,
        row_number() over (partition by c.document_id, c.kind = 'refund' order by c.id desc) as n from charge c;
create temporary table later on commit drop as
    select e.id, e.document_id, e.event = 'refund' as back,
        row_number() over (partition by e.document_id, e.event order by e.id desc) as n from entry e
    where e.event = 'refund' or (e.event = 'purchase' and e.text like '%, later: %'
        and e.id > (select min(o.id) from entry o where o.document_id = e.document_id and o.event = 'purchase'));
update charge c set entry_id = coalesce(
        (select l.id from later l where (l.document_id, l.back, l.n) = (b.document_id, b.back, b.n)),
        (select min(e.id) from entry e where e.document_id = b.document_id and e.event = 'purchase'))
    from booked b where b.charge_id = c.id;

update parcel r set document_id = p.document_id, direction = 'in',
        state = case when r.received_on is null then 'on_its_way' else 'arrived' end,
        carrier_id = (select id from party where name = btrim(r.carrier))
    from purchase p where p.id = r.purchase_id;
insert into parcel_item (parcel_id, item_id)
    select min(r.id), i.id from parcel r join item i on i.purchase_id = r.purchase_id
    where i.session_id is null and i.parent_id is null group by i.id;
drop table act, parted, booked, later;
"""

STRICT = """
alter table document drop column of_purchase, drop column of_session, drop column of_entry;
alter table purchase alter column document_id set not null, add constraint uq_purchase_document_id unique (document_id),
    add constraint fk_purchase_document_id foreign key (document_id) references document (id),
    drop column version, drop column once, drop column name, drop column seller, drop column bought_on,
    drop column state, drop column landed, drop column note, drop column made_at, drop column method;
alter table opening_session alter column document_id set not null,
    add constraint uq_opening_session_document_id unique (document_id),
    add constraint fk_opening_session_document_id foreign key (document_id) references document (id),
    drop column version, drop column once, drop column state, drop column started_on, drop column note,
    drop column made_at;
alter table entry alter column document_id set not null,
    add constraint fk_entry_document_id foreign key (document_id) references document (id),
    drop column purchase_id, drop column session_id;
create index ix_entry_document_id on entry (document_id);
alter table item_event alter column count set not null;
alter table charge alter column document_id set not null, alter column entry_id set not null,
    add constraint fk_charge_document_id foreign key (document_id) references document (id),
    add constraint fk_charge_entry_id foreign key (entry_id) references entry (id), drop column purchase_id;
create index ix_charge_document_id on charge (document_id);
create index ix_charge_entry_id on charge (entry_id);
alter table parcel alter column document_id set not null, alter column direction set not null,
    alter column state set not null,
    add constraint fk_parcel_document_id foreign key (document_id) references document (id),
    add constraint fk_parcel_carrier_id foreign key (carrier_id) references party (id),
    add constraint ck_parcel_direction check (direction in ('in', 'out')),
    add constraint ck_parcel_state check (state in ('on_its_way', 'arrived', 'lost')),
    add constraint ck_parcel_arrived check ((state = 'arrived') = (received_on is not null)),
    drop column purchase_id, drop column carrier;
create index ix_parcel_document_id on parcel (document_id);
create index ix_parcel_carrier_id on parcel (carrier_id);
alter table posting add constraint fk_posting_party_id foreign key (party_id) references party (id),
    add constraint ck_posting_party check ((account in ('receivable', 'payable')) = (party_id is not null));
create index ix_posting_party_id on posting (party_id);
"""

# Back: what only documents know is left out, entries without lines are gone.
BACK = """
alter table purchase add column version integer, add column once varchar(64), add column name varchar(200),
    add column seller varchar(200), add column bought_on date, add column state varchar(10),
    add column landed numeric(16, 3), add column note varchar(500), add column method varchar(10),
    add column made_at timestamp with time zone default now() not null;
update purchase p set version = d.version, once = coalesce(d.once, 'document-' || d.id), name = left(d.text, 200),
        seller = (select name from party where id = d.party_id), bought_on = d.day, state = d.state, note = d.note,
        made_at = d.made_at,
        method = coalesce((select e.method from entry e where e.document_id = d.id and e.method is not null
            order by exists (select from entry r where r.reverses_id = e.id), e.id desc limit 1), 'value'),
        landed = coalesce((select sum(c.home) from charge c where c.document_id = d.id
            and not exists (select from entry r where r.reverses_id = c.entry_id)), 0)
    from document d where d.id = p.document_id;
alter table purchase alter column version set not null, alter column once set not null,
    alter column name set not null, alter column bought_on set not null, alter column state set not null,
    alter column landed set not null, alter column method set not null,
    add constraint ck_purchase_method check (method in ('value', 'equal', 'count', 'hand', 'residual')),
    add constraint uq_purchase_once unique (once),
    add constraint ck_purchase_state check (state in ('ordered', 'received', 'disputed', 'undone'));
alter table opening_session add column version integer, add column once varchar(64), add column state varchar(10),
    add column started_on date, add column note varchar(500),
    add column made_at timestamp with time zone default now() not null;
update opening_session s set version = d.version, once = coalesce(d.once, 'document-' || d.id), state = d.state,
        started_on = d.day, note = d.note, made_at = d.made_at
    from document d where d.id = s.document_id;
alter table opening_session alter column version set not null, alter column once set not null,
    alter column state set not null, alter column started_on set not null,
    add constraint uq_opening_session_once unique (once),
    add constraint ck_opening_session_state check (state in ('running', 'paused', 'done', 'undone')),
    drop constraint ck_opening_session_purpose, drop column purpose;

alter table charge add column purchase_id bigint;
update charge c set purchase_id = p.id from purchase p where p.document_id = c.document_id;
delete from charge where purchase_id is null;
alter table charge alter column purchase_id set not null, drop column document_id, drop column entry_id,
    add constraint fk_charge_purchase_id foreign key (purchase_id) references purchase (id) on delete cascade,
    drop constraint ck_charge_kind,
    add constraint ck_charge_kind check (kind in ('price', 'premium', 'shipping', 'tax', 'duty', 'other', 'refund'));
create index ix_charge_purchase_id on charge (purchase_id);
drop table parcel_item;
alter table parcel add column purchase_id bigint, add column carrier varchar(100);
update parcel r set purchase_id = p.id, carrier = (select left(name, 100) from party where id = r.carrier_id)
    from purchase p where p.document_id = r.document_id and r.direction = 'in';
delete from parcel where purchase_id is null;
alter table parcel alter column purchase_id set not null, drop column document_id, drop column direction,
    drop column state, drop column carrier_id, drop column sent_on,
    add constraint fk_parcel_purchase_id foreign key (purchase_id) references purchase (id) on delete cascade;
create index ix_parcel_purchase_id on parcel (purchase_id);

alter table entry add column purchase_id bigint, add column session_id bigint;
update entry e set purchase_id = p.id from purchase p where p.document_id = e.document_id;
update entry e set session_id = s.id, purchase_id = i.purchase_id
    from opening_session s join item i on i.id = s.item_id where s.document_id = e.document_id;
drop table label;
alter table value drop column entry_id;
update item_event v set entry_id = null where not exists (select from posting p where p.entry_id = v.entry_id);
update entry e set reverses_id = null where not exists (select from posting p where p.entry_id = e.id);
delete from entry e where not exists (select from posting p where p.entry_id = e.id);
alter table entry drop column document_id, drop column method,
    add constraint fk_entry_purchase_id foreign key (purchase_id) references purchase (id),
    add constraint fk_entry_session_id foreign key (session_id) references opening_session (id);
create index ix_entry_purchase_id on entry (purchase_id);
create index ix_entry_session_id on entry (session_id);
alter table item_event drop column count;
alter table purchase drop column document_id;
alter table opening_session drop column document_id;
alter table posting drop constraint ck_posting_party, drop column party_id;
alter table comp drop column eye_appeal;
delete from weight where taken_back_at is not null;
delete from redemption where taken_back_at is not null;
alter table weight drop column taken_back_at;
alter table redemption drop column taken_back_at;
drop table prediction;
drop table photo;
drop table minutes;
alter table item drop constraint ck_item_kind, drop constraint ck_item_state, drop constraint ck_item_owner,
    drop column owner_id, drop column eye_appeal;
update item set kind = 'other' where kind = 'supply';
update item set state = 'at_grading' where state = 'away';
update item set state = 'undone' where state in ('traded', 'joined', 'used_up');
alter table item add constraint ck_item_kind check (kind in ('sealed', 'card', 'stack', 'other')),
    add constraint ck_item_state check (state in ('in_transit', 'held', 'at_grading', 'opened', 'sold', 'given_away',
        'lost', 'returned', 'undone'));
drop table document;
drop table party;
"""


def upgrade() -> None:
    for part in (SHAPE, ROWS, STRICT):
        op.get_bind().exec_driver_sql(part.replace("%", "%%"))


def downgrade() -> None:
    op.get_bind().exec_driver_sql(BACK.replace("%", "%%"))
