-- The production's shots: still cameras, each for every cell or only for a wearer's or a pose's; what is waived because no shot sees it.
create table shot (
    id bigint generated always as identity primary key,
    production_id bigint not null references production (id) on delete cascade,
    camera jsonb not null,
    wearer_id bigint references wearer (id) on delete cascade,
    pose text,
    dropped boolean not null default false,
    author text not null,
    made_at timestamptz not null default now()
);
alter table waiver add column by_shots boolean not null default false;
