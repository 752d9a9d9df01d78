-- Layouts of the cutting table: every change is an edit, undo and redo move along them.
create table layout (
    id bigint generated always as identity primary key,
    production_id integer not null references production on delete cascade,
    name text not null,
    edit_id bigint,
    made_at timestamptz not null default now()
);
create table layout_edit (
    id bigint generated always as identity primary key,
    layout_id bigint not null references layout on delete cascade,
    parent_id bigint references layout_edit on delete cascade,
    wearer_id bigint references wearer (id) on delete set null,
    shape jsonb not null,
    body jsonb not null,
    label text not null,
    author text not null,
    made_at timestamptz not null default now()
);
alter table layout add foreign key (edit_id) references layout_edit (id) on delete set null;
create index on layout_edit (layout_id);
