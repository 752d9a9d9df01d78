-- The stock in order: shelves within shelves, what a piece was made for, versions, colourways, bundles, and more than pieces.
create table shelf (
    id integer generated always as identity primary key,
    parent_id integer references shelf on delete cascade,
    name text not null,
    unique nulls not distinct (parent_id, name)
);

alter table stock_item
    add column kind text not null default 'piece' check (kind in ('piece', 'body', 'pose', 'motion', 'texture', 'extra')),
    add column shelf_id integer references shelf on delete set null,
    add column made_for text references own_body on delete set null,
    add column content jsonb,
    add column version integer not null default 1,
    add column replaces_sha text references blob,
    add column height real,
    add column low real;
create index stock_shelf on stock_item (shelf_id);
create index stock_kind on stock_item (kind) where retired_at is null;

-- Named sets of materials of one piece.
create table colourway (
    id integer generated always as identity primary key,
    item_id integer not null references stock_item on delete cascade,
    name text not null,
    materials jsonb not null,
    unique (item_id, name)
);

-- Pieces that belong together.
create table bundle (
    id integer generated always as identity primary key,
    name text not null unique,
    items integer[] not null,
    added_by text not null,
    added_at timestamptz not null default now()
);
