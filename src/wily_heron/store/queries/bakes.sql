-- name: add_bake
insert into bake (production_id, piece_id, step, poses, author, frames)
values (%(production)s, %(piece)s, %(step)s, %(poses)s, %(author)s, %(frames)s) returning id;

-- name: bake
select * from bake where id = %(bake)s;

-- name: latest_bake
select * from bake where piece_id = %(piece)s order by id desc limit 1;

-- name: running_bakes
select id from bake where state = 'running';

-- name: bake_frame
-- Where the drape under way has come to; no row says that it is to stop.
update bake set frame = %(frame)s, checkpoint = coalesce(%(checkpoint)s, checkpoint)
where id = %(bake)s and state = 'running' and done = %(done)s returning id;

-- name: bake_done
-- One pose more is kept; the last one closes it.
update bake set done = done + 1, frame = 0, checkpoint = null, strain = strain || %(strain)s::jsonb,
       state = case when done + 1 >= jsonb_array_length(poses) then 'done' else 'running' end
where id = %(bake)s and state = 'running' and done = %(done)s returning id;

-- name: end_bake
update bake set state = %(state)s, why = %(why)s, checkpoint = null where id = %(bake)s and state = 'running' returning id;
