-- name: copies_of
-- The working copies of a production, newest first, with how much is in each.
select id, name, automatic, author, made_at, jsonb_array_length(rows->'piece') as pieces, jsonb_array_length(rows->'wearer') as wearers
from working_copy where production_id = %(production)s order by id desc;

-- name: copy
-- One working copy with all that is in it.
select id, name, automatic, author, made_at, figure, rows, jsonb_array_length(rows->'piece') as pieces,
       jsonb_array_length(rows->'wearer') as wearers
from working_copy where id = %(copy)s and production_id = %(production)s;

-- name: drop_copy
-- Says whether there was one.
delete from working_copy where id = %(copy)s and production_id = %(production)s returning id;

-- name: drop_old_copies
-- Of the automatic ones the newest stay; what an artist named stays until it is deleted by hand.
delete from working_copy where production_id = %(production)s and automatic and id not in (
    select id from working_copy where production_id = %(production)s and automatic order by id desc limit %(most)s);

-- name: place_on_rail
-- The place of a piece that comes as the outermost.
select coalesce(max(rail), 0) + 1 as id from piece where production_id = %(production)s;
