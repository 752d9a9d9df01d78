-- Bodies of one's own, and dressed bodies being taken apart. A body never changes: its address is its content.
create table own_body (
    sha text primary key references blob (sha256),
    production_id integer not null references production on delete cascade,
    name text not null,
    model_sha text not null references blob (sha256),
    roles jsonb not null,
    found jsonb not null,
    author text not null,
    made_at timestamptz not null default now()
);
alter table wearer add column body_sha text references own_body;

create table apart (
    id integer generated always as identity primary key,
    production_id integer not null references production on delete cascade,
    file_name text not null,
    model_sha text not null references blob (sha256),
    roles jsonb,
    places jsonb,
    author text not null,
    made_at timestamptz not null default now(),
    state text not null default 'open' check (state in ('open', 'taking', 'taken', 'failed')),
    outcome text,
    edit_id bigint
);

-- One row per division a dressed body has had; undo and redo move apart.edit_id along parent_id.
create table apart_edit (
    id bigint generated always as identity primary key,
    apart_id integer not null references apart on delete cascade,
    parent_id bigint references apart_edit on delete cascade,
    labels_sha text not null references blob (sha256),
    parts jsonb not null,
    label text not null,
    made_at timestamptz not null default now()
);
create index apart_edit_of on apart_edit (apart_id, id);
alter table apart add foreign key (edit_id) references apart_edit on delete set null;
