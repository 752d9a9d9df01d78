-- One row per shape a wearer has had, like the edits of a piece: undo and redo move wearer.edit_id along parent_id.
create table wearer_edit (
    id bigint generated always as identity primary key,
    wearer_id integer not null references wearer on delete cascade,
    parent_id bigint references wearer_edit on delete cascade,
    shape jsonb not null,
    author text not null,
    made_at timestamptz not null default now()
);
create index wearer_edit_of on wearer_edit (wearer_id, id);
create index wearer_edit_parent on wearer_edit (parent_id);
alter table wearer add column edit_id bigint references wearer_edit on delete set null;
insert into wearer_edit (wearer_id, shape, author) select id, shape, 'Wardrobe' from wearer;
update wearer set edit_id = (select e.id from wearer_edit e where e.wearer_id = wearer.id);
