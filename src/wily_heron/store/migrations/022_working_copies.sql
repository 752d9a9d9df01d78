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

-- What points at rows that go with a production, or that undo and redo look for.
create index edit_parent on edit (parent_id);
create index piece_edit on piece (edit_id);
create index piece_of_production on piece (production_id);
create index piece_layout on piece (layout_id);
create index trial_of_production on trial (production_id);
create index trial_cell_wearer on trial_cell (wearer_id);
create index wear_row_piece on wear_row (piece_id);
create index wear_row_wearer on wear_row (wearer_id);
create index bake_piece on bake (piece_id);
