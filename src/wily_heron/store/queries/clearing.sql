-- name: waivers_of
select id, wearer_id, pose, over_piece, reason, by_shots, author, made_at from waiver where production_id = %(production)s order by id;

-- name: waive
-- A second waiver for the same pair in the same cell takes the new reason.
insert into waiver (production_id, wearer_id, pose, over_piece, reason, by_shots, author)
values (%(production)s, %(wearer)s, %(pose)s, %(over)s, %(reason)s, %(by_shots)s, %(author)s)
on conflict (production_id, wearer_id, pose, over_piece) do update set reason = excluded.reason, by_shots = excluded.by_shots, author = excluded.author, made_at = now()
returning id;

-- name: unwaive
delete from waiver where id = %(waiver)s and production_id = %(production)s returning id;

-- name: pins_of
select wearer_id, pose from pinned_cell where production_id = %(production)s;

-- name: pin
insert into pinned_cell (production_id, wearer_id, pose) values (%(production)s, %(wearer)s, %(pose)s) on conflict do nothing;

-- name: unpin
delete from pinned_cell where production_id = %(production)s and wearer_id = %(wearer)s and pose = %(pose)s;

-- name: add_plan
insert into plan (production_id, cell) values (%(production)s, %(cell)s) returning id;

-- name: plan
select * from plan where id = %(plan)s;

-- name: latest_plan
select * from plan where production_id = %(production)s order by id desc limit 1;

-- name: open_plans
select id from plan where state = 'planning';

-- name: plan_progress
update plan set done = %(done)s, total = %(total)s where id = %(plan)s and state = 'planning' returning id;

-- name: finish_plan
update plan set state = %(state)s, lines = %(lines)s, cells = %(cells)s, why = %(why)s where id = %(plan)s and state = 'planning' returning id;

-- name: set_plan
update plan set state = %(state)s, edits = %(edits)s where id = %(plan)s returning id;

-- name: plan_known
-- What the plan came to before it was stopped, or what any sheet has measured of the same cell.
select value from plan_work where plan_id = %(plan)s and key = %(key)s
union all select figures from trial_cell where key = %(key)s and figures is not null limit 1;

-- name: keep_plan_work
insert into plan_work (plan_id, key, value) values (%(plan)s, %(key)s, %(value)s) on conflict do nothing;

-- name: drop_plan_work
delete from plan_work where plan_id = %(plan)s;

-- name: trials_of
-- The runs of a production, newest first, with how many cells held.
select t.id, t.state, t.total, t.started_at,
       (select count(*) from trial_cell c where c.trial_id = t.id and (c.figures->>'holds')::boolean) as holding
from trial t where t.production_id = %(production)s order by t.id desc limit 50;
