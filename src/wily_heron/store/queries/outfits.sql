-- name: outfits_of
-- The outfits of a production in their order, with how many pieces hang in each and who has it on.
select o.id, o.name, (select count(*) from piece p where p.outfit_id = o.id) as pieces,
       (select coalesce(array_agg(w.id order by w.place, w.id), '{}') from wearer w where w.outfit_id = o.id) as worn_by,
       (select coalesce(array_agg(x.wearer_id order by x.wearer_id), '{}') from wearer_outfit x where x.outfit_id = o.id) as owners
from outfit o where o.production_id = %(production)s order by o.place, o.id;

-- name: add_outfit
-- A new outfit is the last of the list.
insert into outfit (production_id, name, place)
values (%(production)s, %(name)s, (select coalesce(max(place), 0) + 1 from outfit where production_id = %(production)s)) returning id;

-- name: rename_outfit
-- Its name is its own within the production.
update outfit set name = %(name)s where id = %(outfit)s and production_id = %(production)s returning id;

-- name: drop_outfit
-- One that somebody has on stays.
delete from outfit o where o.id = %(outfit)s and o.production_id = %(production)s
  and not exists (select 1 from wearer w where w.outfit_id = o.id) returning o.id;

-- name: put_on_outfit
-- A wearer changes into an outfit of the same production.
update wearer w set outfit_id = o.id from outfit o
where w.id = %(wearer)s and o.id = %(outfit)s and o.production_id = w.production_id returning w.id;

-- name: own_outfit
-- Who has had an outfit on owns it.
insert into wearer_outfit (wearer_id, outfit_id) values (%(wearer)s, %(outfit)s) on conflict do nothing;
