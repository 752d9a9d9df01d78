-- Any number of productions: when each was begun and last opened, and which lie in the bin.
alter table production
    add column made_at timestamptz not null default now(),
    add column opened_at timestamptz not null default now(),
    add column binned_at timestamptz;

-- A body of one's own is the studio's, like the stock: it stays when the production that it was brought into goes.
alter table own_body alter column production_id drop not null;
alter table own_body drop constraint own_body_production_id_fkey;
alter table own_body add foreign key (production_id) references production on delete set null;

-- A piece and its edits point at one another: a production that is copied or deleted is checked whole, when the transaction ends.
do $$
declare key record;
begin
    for key in select conrelid::regclass as held_by, conname from pg_constraint
               where contype = 'f' and connamespace = 'public'::regnamespace and not conrelid::regclass::text like 'procrastinate%'
    loop
        execute format('alter table %s alter constraint %I deferrable initially immediate', key.held_by, key.conname);
    end loop;
end $$;
