-- The studio's stock: pieces kept for years under a name, found by what is written on their cards.
create extension if not exists pg_trgm;

create table stock_item (
    id integer generated always as identity primary key,
    name text not null,
    category text not null,
    tags text[] not null default '{}',
    note text not null default '',
    origin text not null default '',
    licence text not null default '',
    file_name text not null,
    source_sha text not null references blob,
    strip_sha text references blob,
    vertices integer not null,
    size_bytes bigint not null,
    findings integer not null default 0,
    favourite boolean not null default false,
    added_by text not null,
    added_at timestamptz not null default now(),
    retired_at timestamptz,
    words text not null,
    found tsvector generated always as (to_tsvector('simple', words)) stored
);
create index stock_found on stock_item using gin (found);
create index stock_words on stock_item using gin (words gin_trgm_ops);
create index stock_category on stock_item (category) where retired_at is null;
create index stock_added on stock_item (added_at desc);
alter table piece add column stock_id integer references stock_item on delete set null;
