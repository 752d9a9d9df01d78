-- name: keep_pose
-- The same pose, named after its content, is kept once.
insert into own_pose (production_id, name, label, rotations, author)
values (%(production)s, %(name)s, %(label)s, %(rotations)s, %(author)s) on conflict (production_id, name) do nothing;

-- name: own_poses
-- The poses made in a production, by what they are called.
select name, label, rotations from own_pose where production_id = %(production)s order by label, made_at;

-- name: own_pose
-- Own poses are named after their content, so the name is enough.
select name, label, rotations from own_pose where name = %(name)s limit 1;

-- name: own_poses_named
-- Those of an axis at once: one question a pose is slow on an axis of a hundred.
select distinct on (name) name, label, rotations from own_pose where name = any(%(names)s) order by name;

-- name: forget_pose
-- Says whether there was one to forget.
delete from own_pose where production_id = %(production)s and name = %(name)s returning name;
