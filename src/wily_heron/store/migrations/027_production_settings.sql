-- What a production has settled for its rooms; without a row, all is as the house has it.
create table production_settings (
    production_id integer primary key references production on delete cascade deferrable initially immediate,
    settings jsonb not null
);
