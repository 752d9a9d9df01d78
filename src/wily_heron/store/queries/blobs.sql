-- name: put_blob
-- Content-addressed: the same bytes are kept once.
insert into blob (sha256, kind, bytes) values (%(sha)s, %(kind)s, %(bytes)s) on conflict (sha256) do nothing;

-- name: blob_there
-- Whether there is anything under an address.
select 1 as there from blob where sha256 = %(sha)s;

-- name: blob
-- The bytes under an address.
select kind, bytes from blob where sha256 = %(sha)s;

-- name: notify
-- Everyone who listens hears what changed, once the transaction commits.
select pg_notify('wily_heron', %(payload)s);
