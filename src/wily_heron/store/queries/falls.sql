-- name: add_fall
insert into fall (piece_id, geometry_sha, label, frames, frames_sha, author)
values (%(piece)s, %(geometry)s, %(label)s, %(frames)s, %(blob)s, %(author)s) returning id;

-- name: falls_of
-- What is kept of a piece, newest first, with the size of each as it lies in the database.
select f.*, length(b.bytes) as bytes from fall f join blob b on b.sha256 = f.frames_sha where f.piece_id = %(piece)s order by f.id desc;

-- name: fall
select * from fall where id = %(fall)s;

-- name: drop_fall
delete from fall where id = %(fall)s returning piece_id;
