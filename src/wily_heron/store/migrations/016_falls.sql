-- Whole falls that are kept: every frame of a piece, and of those that fell along, to be seen again and given away.
create table fall (
    id bigint generated always as identity primary key,
    piece_id bigint not null references piece on delete cascade,
    geometry_sha text not null,
    label text not null,
    frames integer not null,
    frames_sha text not null references blob,
    author text not null,
    made_at timestamptz not null default now()
);
create index fall_of_piece on fall (piece_id);
