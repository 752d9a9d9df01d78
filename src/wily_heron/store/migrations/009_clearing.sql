-- Places left as they are with a reason; cells that matter; plans that clear the sheet.
create table waiver (
    id bigint generated always as identity primary key,
    production_id bigint not null references production (id) on delete cascade,
    wearer_id bigint not null references wearer (id) on delete cascade,
    pose text not null,
    over_piece text not null,
    reason text not null,
    author text not null,
    made_at timestamptz not null default now(),
    unique (production_id, wearer_id, pose, over_piece)
);
create table pinned_cell (
    production_id bigint not null references production (id) on delete cascade,
    wearer_id bigint not null references wearer (id) on delete cascade,
    pose text not null,
    primary key (production_id, wearer_id, pose)
);
create table plan (
    id bigint generated always as identity primary key,
    production_id bigint not null references production (id) on delete cascade,
    state text not null default 'planning' check (state in ('planning', 'ready', 'done', 'undone', 'cancelled', 'failed')),
    done integer not null default 0,
    total integer not null default 0,
    lines jsonb not null default '[]',
    cells jsonb not null default '[]',
    edits jsonb not null default '[]',
    why text not null default '',
    made_at timestamptz not null default now()
);
