"""versions that last, releases known as far as seen, subjects, sizes and notes; items, sessions, pulls and weights
name their card or format by identity"""

from alembic import op

revision = "2f8a6c0e91d7"
down_revision = "7c1e94d2b6a8"
branch_labels = None
depends_on = None

SHAPE = """
alter table release alter column publisher drop not null, alter column currency drop not null,
    alter column priced_on drop not null, add column code varchar(64),
    add column is_stub boolean default false not null,
    add constraint ck_release_sheet
        check (is_stub or (publisher is not null and currency is not null and priced_on is not null));
alter table release alter column is_stub drop default;

alter table format drop constraint fk_format_release_id, add column gone_at timestamp with time zone,
    add column extras jsonb default '[]' not null, alter column position drop not null,
    add constraint fk_format_release_id foreign key (release_id) references release (id),
    add constraint uq_format_id_release_id unique (id, release_id),
    add constraint ck_format_gone check ((position is null) = (gone_at is not null));

alter table line drop constraint fk_line_release_id, drop constraint fk_line_cards_of_id,
    add column gone_at timestamp with time zone, alter column position drop not null, alter column kind drop not null,
    add constraint fk_line_release_id foreign key (release_id) references release (id),
    add constraint fk_line_cards_of_id foreign key (cards_of_id) references line (id),
    add constraint uq_line_id_release_id unique (id, release_id),
    add constraint ck_line_gone check (position is null or (gone_at is null and kind is not null));

alter table card drop constraint fk_card_line_id, add column gone_at timestamp with time zone,
    add column debut boolean, alter column position drop not null,
    add constraint fk_card_line_id foreign key (line_id) references line (id),
    add constraint ck_card_gone check (position is null or gone_at is null);
create index ix_card_number on card (lower(number));

alter table version drop constraint fk_version_line_id, drop constraint fk_version_card_id,
    drop constraint uq_version_line_id_card_id,
    add column gone_at timestamp with time zone, add column variant varchar(60) default '' not null,
    add column search_text text default '' not null, alter column position drop not null,
    add constraint fk_version_line_id foreign key (line_id) references line (id),
    add constraint fk_version_card_id foreign key (card_id) references card (id),
    add constraint uq_version_line_id_card_id_variant unique (line_id, card_id, variant),
    add constraint uq_version_id_line_id unique (id, line_id),
    add constraint ck_version_gone check (position is null or (gone_at is null and variant = ''));

alter table wanted drop constraint fk_wanted_version_id,
    add constraint fk_wanted_version_id foreign key (version_id) references version (id);
alter table value_observation drop constraint fk_value_observation_version_id,
    drop constraint fk_value_observation_format_id,
    add constraint fk_value_observation_version_id foreign key (version_id) references version (id),
    add constraint fk_value_observation_format_id foreign key (format_id) references format (id);

create table subject (
    id bigserial not null,
    name varchar(200) not null,
    watched boolean not null,
    constraint pk_subject primary key (id)
);
create unique index uq_subject_name on subject (lower(name));
create table card_subject (
    card_id bigint not null,
    subject_id bigint not null,
    position integer not null,
    constraint pk_card_subject primary key (card_id, subject_id),
    constraint fk_card_subject_card_id foreign key (card_id) references card (id),
    constraint fk_card_subject_subject_id foreign key (subject_id) references subject (id)
);
create index ix_card_subject_subject_id on card_subject (subject_id);

create table line_size (
    id bigserial not null,
    line_id bigint not null,
    first varchar(200),
    last varchar(200),
    width numeric(6, 2) not null,
    height numeric(6, 2) not null,
    thickness numeric(5, 3),
    weight numeric(7, 3),
    constraint pk_line_size primary key (id),
    constraint fk_line_size_line_id foreign key (line_id) references line (id),
    constraint ck_line_size_measures check (width > 0 and height > 0 and thickness > 0 and weight > 0),
    constraint ck_line_size_range check ((first is null) = (last is null))
);
create index ix_line_size_line_id on line_size (line_id);

create table release_note (
    id bigserial not null,
    release_id bigint not null,
    line_id bigint,
    version_id bigint,
    kind varchar(10) not null,
    text varchar(1000) not null,
    made_at timestamp with time zone default now() not null,
    constraint pk_release_note primary key (id),
    constraint fk_release_note_release_id foreign key (release_id) references release (id),
    constraint fk_release_note_line_id foreign key (line_id, release_id) references line (id, release_id),
    constraint fk_release_note_version_id foreign key (version_id, line_id) references version (id, line_id),
    constraint ck_release_note_kind check (kind in ('fault', 'telling', 'other')),
    constraint ck_release_note_place check (version_id is null or line_id is not null)
);
create index ix_release_note_release_id on release_note (release_id);
"""

# What pulls, sessions and weights name was in a sheet once: it comes back, as gone. What items name is the owner's
# word, and is matched or stays a word.
GONE = """
insert into release (key, name, year, revision, is_stub)
select said.release, said.release, extract(year from min(said.day))::integer, 1, true
from (select release, started_on as day from opening_session union all select release, day from weight) said
where not exists (select from release r where r.key = said.release) group by said.release;

insert into format (release_id, key, name, usable, gone_at)
select distinct r.id, said.format, said.format, 1, now()
from (select release, format from opening_session union select release, format from weight) said
join release r on r.key = said.release
where not exists (select from format f where f.release_id = r.id and f.key = said.format);

create temporary table was_pulled on commit drop as
select distinct r.id as release_id, p.line, p.number
from pull p join opening_session s on s.id = p.session_id join release r on r.key = s.release;

insert into line (release_id, key, name, redemption, whole_checklist, every_format, gone_at)
select distinct w.release_id, w.line, w.line, false, true, true, now() from was_pulled w
where not exists (select from line l where l.release_id = w.release_id and l.key = w.line);

insert into card (line_id, number, subject, weight, gone_at)
select distinct coalesce(l.cards_of_id, l.id), w.number, w.number, 1, now()
from was_pulled w join line l on l.release_id = w.release_id and l.key = w.line
where w.number is not null and not exists
    (select from card c where c.line_id = coalesce(l.cards_of_id, l.id) and c.number = w.number);

insert into version (line_id, card_id, gone_at)
select l.id, c.id, now()
from was_pulled w join line l on l.release_id = w.release_id and l.key = w.line
join card c on c.line_id = coalesce(l.cards_of_id, l.id) and c.number = w.number
where not exists (select from version v where v.line_id = l.id and v.card_id = c.id);
"""

MATCHED = """
alter table opening_session add column format_id bigint;
update opening_session s set format_id = f.id from format f join release r on r.id = f.release_id
where r.key = s.release and f.key = s.format;
alter table opening_session alter column format_id set not null, drop column release, drop column format,
    add constraint fk_opening_session_format_id foreign key (format_id) references format (id);
create index ix_opening_session_format_id on opening_session (format_id);

alter table weight add column format_id bigint;
update weight w set format_id = f.id from format f join release r on r.id = f.release_id
where r.key = w.release and f.key = w.format;
alter table weight alter column format_id set not null, drop column release, drop column format,
    add constraint fk_weight_format_id foreign key (format_id) references format (id);
create index ix_weight_format_id on weight (format_id);

alter table pull add column line_id bigint, add column version_id bigint;
update pull p set line_id = l.id from opening_session s join format f on f.id = s.format_id
join line l on l.release_id = f.release_id where s.id = p.session_id and l.key = p.line;
update pull p set version_id = v.id from version v join card c on c.id = v.card_id
where v.line_id = p.line_id and c.number = p.number;
alter table pull alter column line_id set not null, drop column line, drop column number,
    add constraint fk_pull_line_id foreign key (line_id) references line (id),
    add constraint fk_pull_version_id foreign key (version_id, line_id) references version (id, line_id);
create index ix_pull_line_id on pull (line_id);
create index ix_pull_version_id on pull (version_id);

alter table item add column release_id bigint, add column format_id bigint, add column line_id bigint,
    add column version_id bigint, add column variant_text varchar(60);
alter table item rename column release to release_text;
alter table item rename column format to format_text;
alter table item rename column line to line_text;
alter table item rename column number to number_text;
alter table item rename column words to search_text;
alter index ix_item_words rename to ix_item_search_text;
drop index ix_item_what;

create temporary table release_named on commit drop as
select distinct on (i.release_text) i.release_text, r.id
from (select distinct release_text from item where release_text is not null) i
join release r on r.key = i.release_text
    or lower(concat_ws(' ', r.name, r.series, r.year)) = lower(i.release_text)
order by i.release_text, r.key <> i.release_text, r.id;
update item i set release_id = n.id, release_text = null from release_named n where n.release_text = i.release_text;
update item i set format_id = f.id, format_text = null from format f
where f.release_id = i.release_id and f.key = i.format_text;
update item i set line_id = l.id, line_text = null from line l
where l.release_id = i.release_id and l.key = i.line_text;
update item i set line_id = l.id, line_text = null from line l
where l.release_id = i.release_id and lower(l.name) = lower(i.line_text)
    and not exists (select from line o where o.release_id = l.release_id and o.id < l.id and lower(o.name) = lower(l.name));
update item i set version_id = v.id from version v join card c on c.id = v.card_id
where v.line_id = i.line_id and c.number = i.number_text;
alter table item
    add constraint fk_item_release_id foreign key (release_id) references release (id),
    add constraint fk_item_format_id foreign key (format_id, release_id) references format (id, release_id),
    add constraint fk_item_line_id foreign key (line_id, release_id) references line (id, release_id),
    add constraint fk_item_version_id foreign key (version_id, line_id) references version (id, line_id),
    add constraint ck_item_identity check ((version_id is null or line_id is not null)
        and ((line_id is null and format_id is null) or release_id is not null));
create index ix_item_release_id on item (release_id);
create index ix_item_format_id on item (format_id);
create index ix_item_line_id on item (line_id);
create index ix_item_version_id on item (version_id);
"""

KEPT = """
insert into subject (name, watched)
select distinct on (lower(part)) part, false
from card c, regexp_split_to_table(c.subject, '\\s+/\\s+') with ordinality as parts (part, place)
where part <> '' order by lower(part), part;
insert into card_subject (card_id, subject_id, position)
select c.id, s.id, min(place) from card c, regexp_split_to_table(c.subject, '\\s+/\\s+') with ordinality as parts (part, place)
join subject s on lower(s.name) = lower(part) group by c.id, s.id;

update version v set search_text =
    lower(' ' || concat_ws(' ', c.number, nullif(v.variant, ''), translate(c.subject, '‘’', ''''''),
                     translate(l.name, '‘’', ''''''), translate(r.name, '‘’', ''''''), r.series, r.year, r.code))
from card c, line l join release r on r.id = l.release_id where c.id = v.card_id and l.id = v.line_id;
create index ix_version_search_text on version using gin (search_text extensions.gin_trgm_ops);

alter table version alter column variant drop default, alter column search_text drop default;
"""

BACK = """
alter table weight add column release varchar(64), add column format varchar(64);
update weight w set release = r.key, format = f.key from format f join release r on r.id = f.release_id
where f.id = w.format_id;
alter table weight alter column release set not null, alter column format set not null, drop column format_id;

alter table opening_session add column release varchar(64), add column format varchar(64);
update opening_session s set release = r.key, format = f.key from format f join release r on r.id = f.release_id
where f.id = s.format_id;
alter table opening_session alter column release set not null, alter column format set not null, drop column format_id;

alter table pull add column line varchar(64), add column number varchar(200);
update pull p set line = l.key from line l where l.id = p.line_id;
update pull p set number = c.number from version v join card c on c.id = v.card_id where v.id = p.version_id;
alter table pull alter column line set not null, drop column line_id, drop column version_id;

update item i set release_text = r.key from release r where r.id = i.release_id;
update item i set format_text = f.key from format f where f.id = i.format_id;
update item i set line_text = l.key from line l where l.id = i.line_id;
update item i set number_text = c.number from version v join card c on c.id = v.card_id where v.id = i.version_id;
alter table item drop constraint ck_item_identity, drop column release_id, drop column format_id, drop column line_id,
    drop column version_id, drop column variant_text;
alter table item rename column release_text to release;
alter table item rename column format_text to format;
alter table item rename column line_text to line;
alter table item rename column number_text to number;
alter table item rename column search_text to words;
alter index ix_item_search_text rename to ix_item_words;
create index ix_item_what on item (release, line, number);

drop table release_note; drop table line_size; drop table card_subject; drop table subject;

delete from wanted w using version v where v.id = w.version_id and v.position is null;
delete from value_observation o using version v where v.id = o.version_id and v.position is null;
delete from value_observation o using format f where f.id = o.format_id and f.gone_at is not null;
delete from version where position is null;
delete from card where position is null;
delete from assumption a using line l where l.id = a.line_id and l.position is null;
delete from line where position is null;
delete from format where gone_at is not null;
delete from release_change c using release r where r.id = c.release_id and r.is_stub;
delete from release where is_stub;

alter table wanted drop constraint fk_wanted_version_id,
    add constraint fk_wanted_version_id foreign key (version_id) references version (id) on delete cascade;
alter table value_observation drop constraint fk_value_observation_version_id,
    drop constraint fk_value_observation_format_id,
    add constraint fk_value_observation_version_id foreign key (version_id) references version (id) on delete cascade,
    add constraint fk_value_observation_format_id foreign key (format_id) references format (id) on delete cascade;
drop index ix_version_search_text;
alter table version drop constraint fk_version_line_id, drop constraint fk_version_card_id,
    drop constraint uq_version_line_id_card_id_variant, drop constraint uq_version_id_line_id,
    drop constraint ck_version_gone, drop column gone_at, drop column variant, drop column search_text,
    alter column position set not null,
    add constraint fk_version_line_id foreign key (line_id) references line (id) on delete cascade,
    add constraint fk_version_card_id foreign key (card_id) references card (id) on delete cascade,
    add constraint uq_version_line_id_card_id unique (line_id, card_id);
drop index ix_card_number;
alter table card drop constraint fk_card_line_id, drop constraint ck_card_gone, drop column gone_at, drop column debut,
    alter column position set not null,
    add constraint fk_card_line_id foreign key (line_id) references line (id) on delete cascade;
alter table line drop constraint fk_line_release_id, drop constraint fk_line_cards_of_id, drop constraint ck_line_gone,
    drop constraint uq_line_id_release_id, drop column gone_at, alter column position set not null,
    alter column kind set not null,
    add constraint fk_line_release_id foreign key (release_id) references release (id) on delete cascade,
    add constraint fk_line_cards_of_id foreign key (cards_of_id) references line (id) on delete cascade;
alter table format drop constraint fk_format_release_id, drop constraint ck_format_gone,
    drop constraint uq_format_id_release_id, drop column gone_at, drop column extras, alter column position set not null,
    add constraint fk_format_release_id foreign key (release_id) references release (id) on delete cascade;
alter table release drop constraint ck_release_sheet, drop column code, drop column is_stub,
    alter column publisher set not null, alter column currency set not null, alter column priced_on set not null;
"""


def upgrade() -> None:
    for script in (SHAPE, GONE, MATCHED, KEPT):
        op.get_bind().exec_driver_sql(script)


def downgrade() -> None:
    op.get_bind().exec_driver_sql(BACK)
