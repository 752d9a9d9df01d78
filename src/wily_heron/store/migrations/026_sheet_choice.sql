-- A run of the sheet may be begun by itself after a change, hold some rows and columns only, or be of one outfit on everybody.
alter table trial
    add column automatic boolean not null default false,
    add column whole boolean not null default true,
    add column outfit_id integer references outfit on delete set null deferrable initially immediate;
create index trial_of_outfit on trial (outfit_id);
-- What a cell came to in the run before is shown until it is measured.
create index trial_cell_before on trial_cell (wearer_id, pose, trial_id desc) where figures is not null;
