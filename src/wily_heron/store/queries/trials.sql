-- name: add_trial
-- A run of the sheet, with what each body wears in it.
insert into trial (production_id, outfit, total, automatic, whole, outfit_id)
values (%(production)s, %(outfit)s, 0, %(automatic)s, %(whole)s, %(of_outfit)s) returning id;

-- name: count_cells
-- The run holds so many cells.
update trial set total = (select count(*) from trial_cell where trial_id = %(trial)s) where id = %(trial)s;

-- name: drop_automatic_trials
-- Runs that began by themselves are not kept to be compared with; a few stay, so that undo finds what it goes back to measured.
delete from trial where production_id = %(production)s and automatic and id not in
    (select id from trial where production_id = %(production)s and automatic order by id desc limit 5);

-- name: add_cells
-- A cell measured before under the same key (same piece, shape and pose) is taken over at once; one that is not wanted only then.
insert into trial_cell (trial_id, wearer_id, pose, key, figures, picture_sha, causes)
select %(trial)s, cell.wearer, cell.pose, cell.key, known.figures, known.picture_sha, known.causes
from unnest(%(wearers)s::bigint[], %(poses)s::text[], %(keys)s::text[], %(wanted)s::boolean[]) cell (wearer, pose, key, wanted) left join lateral
     (select figures, picture_sha, causes from trial_cell where key = cell.key and figures is not null
      order by causes is null limit 1) known on true
where cell.wanted or known.figures is not null
returning wearer_id as wearer, pose, figures is not null as known;

-- name: lock_trial
-- The last two cells must not end side by side, each unseen by the other: nobody would close the run.
select id from trial where id = %(trial)s for update;

-- name: finish_cell
-- What a cell came to; a failure before is forgotten.
update trial_cell set figures = %(figures)s, picture_sha = %(picture)s, error = null
where trial_id = %(trial)s and wearer_id = %(wearer)s and pose = %(pose)s;

-- name: fail_cell
-- Why a cell could not be measured.
update trial_cell set error = %(error)s where trial_id = %(trial)s and wearer_id = %(wearer)s and pose = %(pose)s;

-- name: close_if_done
-- The last cell closes the run.
update trial set state = 'done', finished_at = now()
where id = %(trial)s and state = 'running'
  and not exists (select 1 from trial_cell where trial_id = %(trial)s and figures is null and error is null)
returning id;

-- name: cancel_trial
-- What is measured stays; one that has ended stays as it ended.
update trial set state = 'cancelled', finished_at = now() where id = %(trial)s and state = 'running' returning id;

-- name: trial
-- One run without its cells, and how long it has taken.
select id, production_id as production, outfit, total, state, automatic, whole, outfit_id as of_outfit, started_at,
       (select count(*) from trial_cell c where c.trial_id = trial.id and c.figures is not null) as done,
       extract(epoch from coalesce(finished_at, now()) - started_at)::float as seconds
from trial where id = %(trial)s;

-- name: latest_trial
-- The newest run of a production.
select id, production_id as production, outfit, total, state, automatic, whole, outfit_id as of_outfit, started_at,
       (select count(*) from trial_cell c where c.trial_id = trial.id and c.figures is not null) as done,
       extract(epoch from coalesce(finished_at, now()) - started_at)::float as seconds
from trial where production_id = %(production)s order by id desc limit 1;

-- name: running_trials
-- Those that a crash left; what is not measured of them is asked again at start.
select id, production_id as production, outfit, total, state, automatic, whole, outfit_id as of_outfit, started_at, 0.0 as seconds,
       (select count(*) from trial_cell c where c.trial_id = trial.id and c.figures is not null) as done
from trial where state = 'running';

-- name: trials_of
-- The runs of a production, newest first, with how many cells held.
select t.id, t.state, t.total, t.started_at,
       (select count(*) from trial_cell c where c.trial_id = t.id and
               (c.figures->>'area_cm2')::real + coalesce((c.figures->>'holes_cm2')::real, 0) <= %(holds)s + 1e-6) as holding
from trial t where t.production_id = %(production)s and not t.automatic order by t.id desc limit 50;

-- name: cells_of
-- Every cell of a run, wearer by wearer.
select wearer_id as wearer, pose, key, figures, error, picture_sha as picture, causes
from trial_cell where trial_id = %(trial)s order by wearer_id, pose;

-- name: cells_before
-- For each cell of a run that is not measured yet: what it came to in the newest run that measured it.
select c.wearer_id as wearer, c.pose, before.key, before.figures, null as error, before.picture_sha as picture, before.causes
from trial_cell c cross join lateral
     (select key, figures, picture_sha, causes from trial_cell b
      where b.wearer_id = c.wearer_id and b.pose = c.pose and b.trial_id < c.trial_id and b.figures is not null
      order by b.trial_id desc limit 1) before
where c.trial_id = %(trial)s and c.figures is null and c.error is null;

-- name: cells_among
-- Some cells of a run: those that a page has heard of.
select wearer_id as wearer, pose, key, figures, error, picture_sha as picture, causes from trial_cell
where trial_id = %(trial)s and (wearer_id, pose) in (select * from unnest(%(wearers)s::bigint[], %(poses)s::text[]));

-- name: open_cells_of
-- A wearer's cells that are neither measured nor failed.
select pose from trial_cell where trial_id = %(trial)s and wearer_id = %(wearer)s and figures is null and error is null;

-- name: unexplained_cells_of
-- A wearer's failing cells whose causes are not known, worst first.
select wearer_id as wearer, pose, key, figures, error, picture_sha as picture, causes from trial_cell
where trial_id = %(trial)s and wearer_id = %(wearer)s and causes is null and figures is not null and not (figures->>'holds')::boolean
order by (figures->>'area_cm2')::real desc;

-- name: keep_causes
-- What a failing cell comes from.
update trial_cell set causes = %(causes)s where trial_id = %(trial)s and wearer_id = %(wearer)s and pose = %(pose)s;

-- name: reopen_cells
-- Cells that could not be measured wait again, and their run with them.
with t as (update trial set state = 'running', finished_at = null where id = %(trial)s)
update trial_cell set error = null
where trial_id = %(trial)s and wearer_id = %(wearer)s and pose = any(%(columns)s) and figures is null;
