-- name: shelves
-- Every shelf with how much stands on it itself.
select s.id, s.parent_id as parent, s.name,
       (select count(*) from stock_item i where i.shelf_id = s.id and i.retired_at is null) as count
from shelf s order by s.name;

-- name: shelf
-- One shelf and the one it stands in.
select id, name from shelf where id = %(shelf)s;

-- name: add_shelf
-- No row says that there is a shelf of that name.
insert into shelf (parent_id, name) values (%(parent)s, %(name)s) on conflict (parent_id, name) do nothing returning id;

-- name: change_shelf
-- Another name, another place.
update shelf set name = %(name)s, parent_id = %(parent)s where id = %(shelf)s;

-- name: drop_shelf
-- Those in it go with it; what stood on them stays in stock.
delete from shelf where id = %(shelf)s;

-- name: above_shelf
-- The shelf and all it stands in.
with recursive above as (
    select id, parent_id from shelf where id = %(shelf)s
    union select s.id, s.parent_id from shelf s join above a on s.id = a.parent_id
)
select id from above;

-- name: colourways
-- The colourways of a piece, oldest first.
select name, materials from colourway where item_id = %(item)s order by id;

-- name: put_colourway
-- A colourway kept under a name that is there takes its place.
insert into colourway (item_id, name, materials) values (%(item)s, %(name)s, %(materials)s)
on conflict (item_id, name) do update set materials = excluded.materials;

-- name: drop_colourway
-- Says whether there was one to forget.
delete from colourway where item_id = %(item)s and name = %(name)s returning id;

-- name: bundles
-- Every bundle with the names of its pieces in its order.
select b.id, b.name, b.items, b.added_by,
       coalesce((select array_agg(i.name order by array_position(b.items, i.id)) from stock_item i where i.id = any(b.items)), '{}') as names
from bundle b order by b.name;

-- name: bundle
-- One bundle.
select id, name, items from bundle where id = %(bundle)s;

-- name: put_bundle
-- A bundle kept under a name that is there takes its place.
insert into bundle (name, items, added_by) values (%(name)s, %(items)s, %(author)s)
on conflict (name) do update set items = excluded.items returning id;

-- name: drop_bundle
-- Its pieces stay in stock.
delete from bundle where id = %(bundle)s returning id;
