-- name: poses_of
-- The pose axis in its order.
select pose from production_pose where production_id = %(production)s order by place;

-- name: add_pose
-- A pose goes on as the last of the axis.
insert into production_pose (production_id, pose, place)
values (%(production)s, %(pose)s, (select coalesce(max(place), 0) + 1 from production_pose where production_id = %(production)s));

-- name: drop_pose
-- What was measured in the pose stays.
delete from production_pose where production_id = %(production)s and pose = %(pose)s;

-- name: sheet_motions
-- The motions that have a column on the trial sheet.
select motion from sheet_motion where production_id = %(production)s order by motion;

-- name: add_sheet_motion
-- A motion that is there stays where it is.
insert into sheet_motion (production_id, motion) values (%(production)s, %(motion)s) on conflict do nothing;

-- name: drop_sheet_motion
-- What was measured in the motion stays.
delete from sheet_motion where production_id = %(production)s and motion = %(motion)s;

-- name: computed_on
-- Which version of the figure the pieces of this database were computed on.
select version from computed_on where what = %(what)s;

-- name: set_computed_on
-- Said once, then replaced.
insert into computed_on (what, version) values (%(what)s, %(version)s) on conflict (what) do update set version = excluded.version;

-- name: production_settings
-- What was settled for the production's rooms.
select settings from production_settings where production_id = %(production)s;

-- name: keep_production_settings
-- The last one stands.
insert into production_settings (production_id, settings) values (%(production)s, %(settings)s)
on conflict (production_id) do update set settings = excluded.settings;
