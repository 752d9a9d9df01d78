-- Outfits: a rail of pieces, worn by one wearer or by several. What hung on a production's rail is everybody's first outfit.
create table outfit (
    id integer generated always as identity primary key,
    production_id integer not null references production on delete cascade deferrable initially immediate,
    name text not null,
    place integer not null,
    unique (production_id, name) deferrable initially immediate
);
insert into outfit (production_id, name, place) select id, 'First outfit', 1 from production;

alter table piece add column outfit_id integer references outfit on delete cascade deferrable initially immediate;
update piece set outfit_id = (select o.id from outfit o where o.production_id = piece.production_id);
set constraints all immediate;
alter table piece alter column outfit_id set not null;
create index piece_of_outfit on piece (outfit_id);

-- The outfit a wearer has on; those a wearer owns are this one and any other.
alter table wearer add column outfit_id integer references outfit deferrable initially immediate;
update wearer set outfit_id = (select o.id from outfit o where o.production_id = wearer.production_id);
set constraints all immediate;
alter table wearer alter column outfit_id set not null;
create table wearer_outfit (
    wearer_id integer not null references wearer on delete cascade deferrable initially immediate,
    outfit_id integer not null references outfit on delete cascade deferrable initially immediate,
    primary key (wearer_id, outfit_id)
);
insert into wearer_outfit (wearer_id, outfit_id) select id, outfit_id from wearer;
create index wearer_of_outfit on wearer (outfit_id);
create index wearer_outfit_of on wearer_outfit (outfit_id);
