-- name: add_wear_run
insert into wear_run (production_id) values (%(production)s) returning id;

-- name: add_wear_row
insert into wear_row (run_id, piece_id, wearer_id) values (%(run)s, %(piece)s, %(wearer)s);

-- name: wear_run
select id, production_id, state from wear_run where id = %(run)s;

-- name: latest_wear_run
select id, production_id, state from wear_run where production_id = %(production)s order by id desc limit 1;

-- name: wear_rows
select r.piece_id, r.wearer_id, r.state, r.under_before, r.under_after, r.why, p.name as piece, w.name as wearer
from wear_row r join piece p on p.id = r.piece_id join wearer w on w.id = r.wearer_id
where r.run_id = %(run)s order by w.id, p.rail;

-- name: finish_wear_row
update wear_row set state = %(state)s, under_before = %(before)s, under_after = %(after)s, why = %(why)s
where run_id = %(run)s and piece_id = %(piece)s and wearer_id = %(wearer)s;

-- name: close_wear_run
-- The last row closes the run.
update wear_run set state = 'done', finished_at = now()
where id = %(run)s and state = 'running' and not exists (select 1 from wear_row where run_id = %(run)s and state = 'waiting');

-- name: cancel_wear_run
update wear_run set state = 'cancelled', finished_at = now() where id = %(run)s and state = 'running';
