-- name: add_bake
-- A bake begins at its first pose.
insert into bake (production_id, piece_id, step, poses, author, frames)
values (%(production)s, %(piece)s, %(step)s, %(poses)s, %(author)s, %(frames)s) returning id;

-- name: bake
-- One bake with its checkpoint.
select id, production_id as production, piece_id as piece, step, poses, author, state, done, frame, frames, checkpoint, strain, why
from bake where id = %(bake)s;

-- name: latest_bake
-- The newest bake of a piece.
select id, production_id as production, piece_id as piece, step, poses, author, state, done, frame, frames, checkpoint, strain, why
from bake where piece_id = %(piece)s order by id desc limit 1;

-- name: running_bakes
-- Those that a crash left; asked again at start.
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
-- One that has ended already stays as it ended.
update bake set state = %(state)s, why = %(why)s, checkpoint = null where id = %(bake)s and state = 'running' returning id;

-- name: reopen_bake
-- A bake that failed goes on from its last pose.
update bake set state = 'running', why = '' where id = %(bake)s and state = 'failed';
