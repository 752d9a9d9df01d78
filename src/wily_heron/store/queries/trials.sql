-- name: add_trial
insert into trial (production_id, outfit, total) values (%(production)s, %(outfit)s, %(total)s) returning id;

-- name: add_cells
-- A cell measured before under the same key (same piece, shape and pose) is taken over at once.
insert into trial_cell (trial_id, wearer_id, pose, key, figures, picture_sha, causes)
select %(trial)s, cell.wearer, cell.pose, cell.key, known.figures, known.picture_sha, known.causes
from unnest(%(wearers)s::bigint[], %(poses)s::text[], %(keys)s::text[]) cell (wearer, pose, key) left join lateral
     (select figures, picture_sha, causes from trial_cell where key = cell.key and figures is not null
      order by causes is null limit 1) known on true
returning wearer_id, pose, figures is not null as known;

-- name: finish_cell
update trial_cell set figures = %(figures)s, picture_sha = %(picture)s, error = null
where trial_id = %(trial)s and wearer_id = %(wearer)s and pose = %(pose)s;

-- name: fail_cell
update trial_cell set error = %(error)s where trial_id = %(trial)s and wearer_id = %(wearer)s and pose = %(pose)s;

-- name: close_if_done
-- The last cell closes the run.
update trial set state = 'done', finished_at = now()
where id = %(trial)s and state = 'running'
  and not exists (select 1 from trial_cell where trial_id = %(trial)s and figures is null and error is null)
returning id;

-- name: cancel_trial
update trial set state = 'cancelled', finished_at = now() where id = %(trial)s and state = 'running' returning id;

-- name: trial
select id, production_id, outfit, total, state, started_at, finished_at, extract(epoch from coalesce(finished_at, now()) - started_at) as seconds
from trial where id = %(trial)s;

-- name: latest_trial
select id, production_id, outfit, total, state, started_at, finished_at, extract(epoch from coalesce(finished_at, now()) - started_at) as seconds
from trial where production_id = %(production)s order by id desc limit 1;

-- name: cells_of
select wearer_id, pose, key, figures, error, picture_sha, causes from trial_cell where trial_id = %(trial)s order by wearer_id, pose;

-- name: open_cells_of
-- A wearer's cells that are neither measured nor failed.
select pose from trial_cell where trial_id = %(trial)s and wearer_id = %(wearer)s and figures is null and error is null;

-- name: unexplained_cells_of
-- A wearer's failing cells whose causes are not known, worst first.
select pose, figures from trial_cell
where trial_id = %(trial)s and wearer_id = %(wearer)s and causes is null and figures is not null and not (figures->>'holds')::boolean
order by (figures->>'area_cm2')::real desc;

-- name: tell_causes
update trial_cell set causes = %(causes)s where trial_id = %(trial)s and wearer_id = %(wearer)s and pose = %(pose)s;
