-- Runs of wearing the outfit on other wearers: a row per piece and wearer.
create table wear_run (
    id bigint generated always as identity primary key,
    production_id bigint not null references production (id) on delete cascade,
    state text not null default 'running' check (state in ('running', 'done', 'cancelled')),
    started_at timestamptz not null default now(),
    finished_at timestamptz
);
create table wear_row (
    run_id bigint not null references wear_run (id) on delete cascade,
    piece_id bigint not null references piece (id) on delete cascade,
    wearer_id bigint not null references wearer (id) on delete cascade,
    state text not null default 'waiting' check (state in ('waiting', 'done', 'mended', 'needs')),
    under_before real,
    under_after real,
    why text not null default '',
    primary key (run_id, piece_id, wearer_id)
);
