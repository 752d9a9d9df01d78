-- The stock in order: shelves within shelves, what a piece was made for, versions, colourways, bundles, more than pieces, batches.
create table shelf (
    id integer generated always as identity primary key,
    parent_id integer references shelf on delete cascade,
    name text not null,
    unique nulls not distinct (parent_id, name)
);

alter table stock_item
    add column kind text not null default 'piece' check (kind in ('piece', 'body', 'pose', 'motion', 'fabric', 'texture', 'extra')),
    add column shelf_id integer references shelf on delete set null,
    add column made_for text references own_body on delete set null,
    add column content jsonb not null default '{}',
    add column version integer not null default 1,
    add column height real,
    add column low real;
create index stock_shelf on stock_item (shelf_id);
create index stock_kind on stock_item (kind) where retired_at is null;
create index piece_stock on piece (stock_id);

-- What a piece in stock was before it was replaced: nothing is overwritten.
create table stock_version (
    item_id integer not null references stock_item on delete cascade,
    version integer not null,
    source_sha text not null references blob,
    file_name text not null,
    until timestamptz not null default now(),
    primary key (item_id, version)
);

-- Named sets of materials of one piece.
create table colourway (
    id integer generated always as identity primary key,
    item_id integer not null references stock_item on delete cascade,
    name text not null,
    materials jsonb not null,
    unique (item_id, name)
);
alter table piece add column colourway text;

-- Pieces that belong together.
create table bundle (
    id integer generated always as identity primary key,
    name text not null unique,
    items integer[] not null,
    added_by text not null,
    added_at timestamptz not null default now()
);

-- Files taken in together: a job with a row per file.
create table batch (
    id integer generated always as identity primary key,
    shelf_id integer references shelf on delete set null,
    beside jsonb not null,
    author text not null,
    cancelled boolean not null default false,
    made_at timestamptz not null default now()
);
create table batch_row (
    id integer generated always as identity primary key,
    batch_id integer not null references batch on delete cascade,
    file_name text not null,
    upload_sha text not null references blob,
    state text not null default 'waiting' check (state in ('waiting', 'done', 'mended', 'needs you', 'refused', 'cancelled')),
    why text not null default '',
    item_id integer references stock_item on delete set null
);
create index batch_row_of on batch_row (batch_id, id);
