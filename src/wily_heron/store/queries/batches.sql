-- name: add_batch
-- Files that came in together, and what lies beside them.
insert into batch (shelf_id, beside, author) values (%(shelf)s, %(beside)s, %(author)s) returning id;

-- name: add_batch_row
-- One file of a batch, waiting.
insert into batch_row (batch_id, file_name, upload_sha) values (%(batch)s, %(file_name)s, %(upload)s) returning id;

-- name: batch_row
-- One file with what it needs of its batch.
select r.id, r.file_name, r.upload_sha as upload, r.state, b.shelf_id as shelf, b.beside, b.author, b.cancelled from batch_row r join batch b on b.id = r.batch_id where r.id = %(row)s;

-- name: batch
-- One batch without its rows.
select id, cancelled, made_at from batch where id = %(batch)s;

-- name: latest_batch
-- The batch that came in last.
select id, cancelled, made_at from batch order by id desc limit 1;

-- name: batch_rows
-- What became of each file.
select id, file_name, state, why, item_id from batch_row where batch_id = %(batch)s order by id;

-- name: end_batch_row
-- One that was cancelled meanwhile stays cancelled.
update batch_row set state = %(state)s, why = %(why)s, item_id = %(item)s where id = %(row)s and state = 'waiting';

-- name: cancel_batch
-- What is taken in stays, what waits is let go.
with b as (update batch set cancelled = true where id = %(batch)s)
update batch_row set state = 'cancelled' where batch_id = %(batch)s and state = 'waiting';

-- name: waiting_batch_rows
-- Files that a crash left waiting; asked again at start.
select id from batch_row where state = 'waiting' order by id;

-- name: reopen_batch_row
-- A file that was refused, or let go, waits again.
with b as (update batch set cancelled = false where id = (select batch_id from batch_row where id = %(row)s))
update batch_row set state = 'waiting', why = '' where id = %(row)s and state in ('refused', 'cancelled');

-- name: batch_of_row
-- The batch that a file came in with.
select batch_id as id from batch_row where id = %(row)s;
