-- Fabrics of the studio's own, by their physical figures; shared by all that it does.
create table own_fabric (
    name text primary key,
    figures jsonb not null,
    author text not null,
    made_at timestamptz not null default now()
);
