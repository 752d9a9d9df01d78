-- name: production
select id, name from production order by id limit 1;

-- name: add_production
insert into production (name) values (%(name)s) returning id;

-- name: drop_productions
-- Reset of the demo: everything hangs on the production.
delete from production;

-- name: cast_of
select w.id, w.name, w.shape, w.place, w.body_sha, e.parent_id is not null as can_undo,
       exists (select 1 from wearer_edit c where c.parent_id = w.edit_id) as can_redo
from wearer w left join wearer_edit e on e.id = w.edit_id
where w.production_id = %(production)s order by w.place, w.id;

-- name: wearer
select id, production_id, name, shape, place, body_sha from wearer where id = %(wearer)s;

-- name: add_wearer
insert into wearer (production_id, name, shape, body_sha, place)
values (%(production)s, %(name)s, %(shape)s, %(body)s, (select coalesce(max(place), 0) + 1 from wearer where production_id = %(production)s)) returning id;

-- name: poses_of
select pose from production_pose where production_id = %(production)s order by place;

-- name: add_pose
insert into production_pose (production_id, pose, place)
values (%(production)s, %(pose)s, (select coalesce(max(place), 0) + 1 from production_pose where production_id = %(production)s));

-- name: drop_pose
delete from production_pose where production_id = %(production)s and pose = %(pose)s;

-- name: put_blob
-- Content-addressed: the same bytes are kept once.
insert into blob (sha256, kind, bytes) values (%(sha)s, %(kind)s, %(bytes)s) on conflict (sha256) do nothing;

-- name: blob
select kind, bytes from blob where sha256 = %(sha)s;

-- name: tell
-- Everyone who listens hears what changed.
select pg_notify('wily_heron', %(payload)s);
