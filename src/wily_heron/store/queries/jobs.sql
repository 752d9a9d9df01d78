-- name: jobs
-- All that is done, waits, or has failed, in the order in which it is done; with what is noted of it.
select j.id, j.task_name as task, j.args as values, j.status::text as status, j.priority, j.abort_requested as stopping, n.why,
       (select min(e.at) from procrastinate_events e where e.job_id = j.id and e.type = 'deferred') as asked_at,
       (select max(e.at) from procrastinate_events e where e.job_id = j.id and e.type = 'started') as begun_at
from procrastinate_jobs j left join job_note n on n.job_id = j.id
where j.status in ('doing', 'todo', 'failed') order by j.status = 'failed', j.status = 'todo', j.priority desc, j.id;

-- name: job
-- One job, whatever its state.
select j.id, j.task_name as task, j.args as values, j.status::text as status, j.priority, j.abort_requested as stopping, n.why,
       null::timestamptz as asked_at, null::timestamptz as begun_at
from procrastinate_jobs j left join job_note n on n.job_id = j.id where j.id = %(job)s;

-- name: note_job
-- Why a job is at an end; what was noted first stands.
insert into job_note (job_id, why, failed) values (%(job)s, %(why)s, %(failed)s) on conflict do nothing;

-- name: ended_jobs
-- Jobs whose process was ended, which the queue still takes to be at work.
select n.job_id as job, j.task_name as task, j.args as values, n.why, n.failed
from job_note n join procrastinate_jobs j on j.id = n.job_id where j.status = 'doing';

-- name: forget_job_notes
-- What is noted of jobs that the queue no longer holds.
delete from job_note n where not exists (select from procrastinate_jobs j where j.id = n.job_id);

-- name: drop_job
-- A job that waits or has failed; one at work is ended by its worker.
delete from procrastinate_jobs where id = %(job)s and status in ('todo', 'failed') returning id;

-- name: stop_job
-- Its worker ends it.
update procrastinate_jobs set abort_requested = true where id = %(job)s and status = 'doing' returning id;

-- name: urgent_job_waits
-- An artist waits for it; what measures and draws comes after.
select id from procrastinate_jobs where status = 'todo' and priority > 0 and (scheduled_at is null or scheduled_at <= now()) limit 1;

-- name: about_edits
-- Steps of pieces.
select e.id as of, e.id as thing, p.production_id as production, p.name as subject, e.author, 0 as done, 0 as total
from edit e join piece p on p.id = e.piece_id where e.id = any(%(some)s);

-- name: about_pieces
-- Pieces that are put on.
select p.id as of, p.id as thing, p.production_id as production, p.name as subject, coalesce(p.dressed_by, '') as author, 0 as done, 0 as total
from piece p where p.id = any(%(some)s) order by p.rail;

-- name: about_outfits
-- Outfits that are fitted.
select o.id as of, o.id as thing, o.production_id as production, o.name as subject, '' as author, 0 as done, 0 as total
from outfit o where o.id = any(%(some)s);

-- name: about_batch_rows
-- Files that are taken into stock: those that came together are one thing, done file by file.
select r.id as of, b.id as thing, null::integer as production, r.file_name as subject, b.author,
       (select count(*) from batch_row t where t.batch_id = b.id and t.state <> 'waiting') as done,
       (select count(*) from batch_row t where t.batch_id = b.id) as total
from batch_row r join batch b on b.id = r.batch_id where r.id = any(%(some)s);

-- name: about_items
-- Items of the stock whose pictures are drawn.
select i.id as of, 0 as thing, null::integer as production, i.name as subject, i.added_by as author, 0 as done, 0 as total
from stock_item i where i.id = any(%(some)s);

-- name: about_aparts
-- Dressed bodies that are taken apart.
select a.id as of, a.id as thing, a.production_id as production, a.file_name as subject, a.author, 0 as done, 0 as total
from apart a where a.id = any(%(some)s);

-- name: about_wear_runs
-- Runs of wearing an outfit on others.
select r.id as of, r.id as thing, r.production_id as production, '' as subject, '' as author,
       (select count(*) from wear_row w where w.run_id = r.id and w.state <> 'waiting') as done,
       (select count(*) from wear_row w where w.run_id = r.id) as total
from wear_run r where r.id = any(%(some)s);

-- name: about_bakes
-- Bakes, done pose by pose.
select b.id as of, b.id as thing, b.production_id as production, p.name as subject, b.author, b.done, jsonb_array_length(b.poses) as total
from bake b join piece p on p.id = b.piece_id where b.id = any(%(some)s);

-- name: about_trials
-- Runs of the sheet, done cell by cell.
select t.id as of, t.id as thing, t.production_id as production, '' as subject, '' as author, t.total,
       (select count(*) from trial_cell c where c.trial_id = t.id and (c.figures is not null or c.error is not null)) as done
from trial t where t.id = any(%(some)s);

-- name: about_hunts
-- Hunts, done pose by pose of each part.
select h.id as of, h.id as thing, h.production_id as production, '' as subject, '' as author, sum(p.done) as done, sum(p.poses) as total
from hunt h join hunt_part p on p.hunt_id = h.id where h.id = any(%(some)s) group by h.id;

-- name: about_plans
-- Plans of the sheet.
select p.id as of, p.id as thing, p.production_id as production, '' as subject, '' as author, p.done, p.total
from plan p where p.id = any(%(some)s);
