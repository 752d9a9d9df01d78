-- Working copies: a production as it stood, under a name; made by an artist, or before what may be regretted.
create table working_copy (
    id bigint generated always as identity primary key,
    production_id integer not null references production on delete cascade deferrable initially immediate,
    name text not null,
    automatic boolean not null default false,
    figure text not null,
    rows jsonb not null,
    author text not null,
    made_at timestamptz not null default now()
);
create index working_copy_of on working_copy (production_id, id);
