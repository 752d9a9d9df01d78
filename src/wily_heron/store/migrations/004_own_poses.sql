-- Poses of one's own. A row never changes: the name holds a digest of the rotations.
create table own_pose (
    production_id integer not null references production on delete cascade,
    name text not null,
    label text not null,
    rotations jsonb not null,
    author text not null,
    made_at timestamptz not null default now(),
    primary key (production_id, name)
);
