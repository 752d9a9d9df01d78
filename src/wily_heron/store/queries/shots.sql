-- name: shots_of
-- The shots that are not dropped, oldest first.
select id, camera as shot, wearer_id as wearer, pose from shot where production_id = %(production)s and not dropped order by id;

-- name: add_shot
-- A shot for every cell, or for those of a wearer or of a pose.
insert into shot (production_id, camera, wearer_id, pose, author)
values (%(production)s, %(camera)s, %(wearer)s, %(pose)s, %(author)s) returning id;

-- name: change_shot
-- Says whether there was one to change.
update shot set camera = %(camera)s, wearer_id = %(wearer)s, pose = %(pose)s
where id = %(shot)s and production_id = %(production)s and not dropped returning id;

-- name: drop_shot
-- A shot that is dropped can be taken back.
update shot set dropped = %(dropped)s where id = %(shot)s and production_id = %(production)s returning id;
