-- What a failing cell comes from; motions on the trial sheet, each standing for its worst frame; hunts for failures in random poses on the cast and on mixes of it.
alter table trial_cell add column causes jsonb;
create table sheet_motion (
    production_id integer not null references production on delete cascade,
    motion text not null,
    primary key (production_id, motion)
);
create table hunt (
    id bigint generated always as identity primary key,
    production_id integer not null references production on delete cascade,
    outfit text not null,
    seed integer not null,
    share real not null,
    state text not null default 'running' check (state in ('running', 'done', 'cancelled')),
    started_at timestamptz not null default now()
);
create table hunt_part (
    hunt_id bigint not null references hunt on delete cascade,
    part integer not null,
    name text not null,
    wearer_id bigint references wearer on delete cascade,
    body_sha text,
    shape jsonb not null,
    poses integer not null,
    done integer not null default 0,
    primary key (hunt_id, part)
);
create table hunt_found (
    hunt_id bigint not null references hunt on delete cascade,
    part integer not null,
    place integer not null,
    rotations jsonb not null,
    figures jsonb not null,
    picture_sha text references blob,
    primary key (hunt_id, part, place)
);
