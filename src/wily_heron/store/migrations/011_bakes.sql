-- Drapes baked for a list of poses, one after the other; a checkpoint holds the cloth of the one under way.
create table bake (
    id bigint generated always as identity primary key,
    production_id integer not null references production on delete cascade,
    piece_id bigint not null references piece on delete cascade,
    step jsonb not null,
    poses jsonb not null,
    author text not null,
    state text not null default 'running' check (state in ('running', 'done', 'cancelled', 'failed')),
    done integer not null default 0,
    frame integer not null default 0,
    frames integer not null default 0,
    checkpoint bytea,
    strain jsonb not null default '[]',
    why text not null default '',
    made_at timestamptz not null default now()
);
