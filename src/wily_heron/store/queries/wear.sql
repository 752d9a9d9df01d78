-- name: add_wear_run
-- A run of wearing the outfit on other wearers.
insert into wear_run (production_id) values (%(production)s) returning id;

-- name: add_wear_row
-- One piece on one wearer, waiting.
insert into wear_row (run_id, piece_id, wearer_id) values (%(run)s, %(piece)s, %(wearer)s);

-- name: wear_run
-- One run without its rows.
select id, production_id as production, state from wear_run where id = %(run)s;

-- name: latest_wear_run
-- The newest run of a production.
select id, production_id as production, state from wear_run where production_id = %(production)s order by id desc limit 1;

-- name: wear_rows
-- A run's rows: wearer by wearer, from the skin outwards.
select r.piece_id as piece, r.wearer_id as wearer, r.state, r.under_before, r.under_after, r.why, p.name as piece_name, w.name as wearer_name
from wear_row r join piece p on p.id = r.piece_id join wearer w on w.id = r.wearer_id
where r.run_id = %(run)s order by w.id, p.rail;

-- name: waiting_wear_rows
-- Those that a crash left in runs under way; asked again at start.
select r.run_id as run, r.piece_id as piece, r.wearer_id as wearer from wear_row r join wear_run w on w.id = r.run_id
where w.state = 'running' and r.state = 'waiting';

-- name: lock_wear_run
-- The last two rows must not end side by side, each unseen by the other: nobody would close the run.
select id from wear_run where id = %(run)s for update;

-- name: finish_wear_row
-- What one piece came to on one wearer.
update wear_row set state = %(state)s, under_before = %(before)s, under_after = %(after)s, why = %(why)s
where run_id = %(run)s and piece_id = %(piece)s and wearer_id = %(wearer)s;

-- name: close_wear_run
-- The last row closes the run.
update wear_run set state = 'done', finished_at = now()
where id = %(run)s and state = 'running' and not exists (select 1 from wear_row where run_id = %(run)s and state = 'waiting');

-- name: cancel_wear_run
-- What is done stays; one that has ended stays as it ended.
update wear_run set state = 'cancelled', finished_at = now() where id = %(run)s and state = 'running';

-- name: reopen_wear_row
-- What needs the artist is looked at once more.
with r as (update wear_run set state = 'running', finished_at = null where id = %(run)s)
update wear_row set state = 'waiting', why = '' where run_id = %(run)s and piece_id = %(piece)s and wearer_id = %(wearer)s and state = 'needs';
