-- Productions, their cast, pieces with their edit history, trials; arrays and pictures as content-addressed blobs.
create table blob (
    sha256 text primary key check (length(sha256) = 64),
    kind text not null,
    bytes bytea not null,
    made_at timestamptz not null default now()
);

create table production (
    id integer generated always as identity primary key,
    name text not null
);

create table wearer (
    id integer generated always as identity primary key,
    production_id integer not null references production on delete cascade,
    name text not null,
    shape jsonb not null,
    place integer not null,
    unique (production_id, name)
);

create table production_pose (
    production_id integer not null references production on delete cascade,
    pose text not null,
    place integer not null,
    primary key (production_id, pose)
);

create table piece (
    id integer generated always as identity primary key,
    production_id integer not null references production on delete cascade,
    name text not null,
    category text not null,
    rail integer not null,
    file_name text not null,
    source_sha text not null references blob,
    edit_id bigint
);

-- One row per recipe a piece has had. Undo and redo move piece.edit_id along parent_id; nothing is overwritten.
create table edit (
    id bigint generated always as identity primary key,
    piece_id integer not null references piece on delete cascade,
    parent_id bigint references edit on delete cascade,
    recipe jsonb not null,
    label text not null,
    author text not null,
    made_at timestamptz not null default now(),
    status text not null default 'waiting' check (status in ('waiting', 'done', 'failed')),
    report jsonb,
    error jsonb,
    geometry_sha text references blob,
    thumb_sha text references blob
);
create index edit_of_piece on edit (piece_id, id);
alter table piece add foreign key (edit_id) references edit;

create table trial (
    id integer generated always as identity primary key,
    production_id integer not null references production on delete cascade,
    outfit text not null,
    total integer not null,
    state text not null default 'running' check (state in ('running', 'done', 'cancelled')),
    started_at timestamptz not null default now(),
    finished_at timestamptz
);

create table trial_cell (
    trial_id integer not null references trial on delete cascade,
    wearer_id integer not null references wearer on delete cascade,
    pose text not null,
    key text not null,
    figures jsonb,
    error text,
    picture_sha text references blob,
    primary key (trial_id, wearer_id, pose)
);
create index trial_cell_key on trial_cell (key) where figures is not null;
