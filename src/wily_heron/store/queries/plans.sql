-- name: add_plan
-- A plan for the whole sheet, or for one cell of it.
insert into plan (production_id, cell) values (%(production)s, %(cell)s) returning id;

-- name: plan
-- One plan with all it proposes.
select id, production_id as production, cell, state, done, total, lines, cells, edits, why from plan where id = %(plan)s;

-- name: latest_plan
-- The newest plan of a production.
select id, production_id as production, cell, state, done, total, lines, cells, edits, why
from plan where production_id = %(production)s order by id desc limit 1;

-- name: open_plans
-- Those that a crash left; asked again at start.
select id from plan where state = 'planning';

-- name: plan_progress
-- No row says that it is to stop.
update plan set done = %(done)s, total = %(total)s where id = %(plan)s and state = 'planning' returning id;

-- name: finish_plan
-- One that was stopped meanwhile stays stopped.
update plan set state = %(state)s, lines = %(lines)s, cells = %(cells)s, edits = %(edits)s, why = %(why)s
where id = %(plan)s and state = 'planning' returning id;

-- name: set_plan
-- It is carried out, taken back or put aside.
update plan set state = %(state)s, edits = %(edits)s where id = %(plan)s returning id;

-- name: plan_known
-- What the plan came to before it was stopped, or what any sheet has measured of the same cell.
select value from plan_work where plan_id = %(plan)s and key = %(key)s
union all select figures from trial_cell where key = %(key)s and figures is not null limit 1;

-- name: keep_plan_work
-- Two workers that come to the same keep it once.
insert into plan_work (plan_id, key, value) values (%(plan)s, %(key)s, %(value)s) on conflict do nothing;

-- name: drop_plan_work
-- A plan that has ended needs it no more.
delete from plan_work where plan_id = %(plan)s;

-- name: reopen_plan
-- A plan that failed is made once more.
update plan set state = 'planning', why = '' where id = %(plan)s and state = 'failed';
