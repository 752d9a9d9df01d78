-- name: shelves
select s.id, s.parent_id as parent, s.name,
       (select count(*) from stock_item i where i.shelf_id = s.id and i.retired_at is null) as count
from shelf s order by s.name;

-- name: shelf
select id, parent_id, name from shelf where id = %(shelf)s;

-- name: add_shelf
insert into shelf (parent_id, name) values (%(parent)s, %(name)s) on conflict (parent_id, name) do nothing returning id;

-- name: change_shelf
update shelf set name = %(name)s, parent_id = %(parent)s where id = %(shelf)s;

-- name: drop_shelf
delete from shelf where id = %(shelf)s;

-- name: above_shelf
-- The shelf and all it stands in.
with recursive above as (
    select id, parent_id from shelf where id = %(shelf)s
    union select s.id, s.parent_id from shelf s join above a on s.id = a.parent_id
)
select id from above;

-- name: colourways
select name, materials from colourway where item_id = %(item)s order by id;

-- name: put_colourway
insert into colourway (item_id, name, materials) values (%(item)s, %(name)s, %(materials)s)
on conflict (item_id, name) do update set materials = excluded.materials;

-- name: drop_colourway
delete from colourway where item_id = %(item)s and name = %(name)s returning id;

-- name: wear_colourway
update piece set colourway = %(name)s where id = %(piece)s;

-- name: bundles
select b.id, b.name, b.items, b.added_by,
       coalesce((select array_agg(i.name order by array_position(b.items, i.id)) from stock_item i where i.id = any(b.items)), '{}') as names
from bundle b order by b.name;

-- name: bundle
select id, name, items from bundle where id = %(bundle)s;

-- name: put_bundle
insert into bundle (name, items, added_by) values (%(name)s, %(items)s, %(author)s)
on conflict (name) do update set items = excluded.items returning id;

-- name: drop_bundle
delete from bundle where id = %(bundle)s returning id;

-- name: add_batch
insert into batch (shelf_id, beside, author) values (%(shelf)s, %(beside)s, %(author)s) returning id;

-- name: add_batch_row
insert into batch_row (batch_id, file_name, upload_sha) values (%(batch)s, %(file_name)s, %(upload)s) returning id;

-- name: batch_row
select r.*, b.shelf_id, b.beside, b.author, b.cancelled from batch_row r join batch b on b.id = r.batch_id where r.id = %(row)s;

-- name: batch
select id, cancelled, made_at from batch where id = %(batch)s;

-- name: latest_batch
select id, cancelled, made_at from batch order by id desc limit 1;

-- name: batch_rows
select id, file_name, state, why, item_id from batch_row where batch_id = %(batch)s order by id;

-- name: end_batch_row
update batch_row set state = %(state)s, why = %(why)s, item_id = %(item)s where id = %(row)s and state = 'waiting';

-- name: cancel_batch
with b as (update batch set cancelled = true where id = %(batch)s)
update batch_row set state = 'cancelled' where batch_id = %(batch)s and state = 'waiting';

-- name: waiting_batch_rows
select id from batch_row where state = 'waiting' order by id;
