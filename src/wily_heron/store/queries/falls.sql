-- name: add_fall
-- The frames of a fall, and the geometry they belong to.
insert into fall (piece_id, geometry_sha, label, frames, frames_sha, author)
values (%(piece)s, %(geometry)s, %(label)s, %(frames)s, %(blob)s, %(author)s) returning id;

-- name: falls_of
-- What is kept of a piece, newest first, with the size of each as it lies in the database.
select f.id, f.label, f.frames, f.author, f.geometry_sha as geometry, length(b.bytes) as bytes
from fall f join blob b on b.sha256 = f.frames_sha where f.piece_id = %(piece)s order by f.id desc;

-- name: fall
-- Where the frames of a fall are kept.
select frames_sha from fall where id = %(fall)s;

-- name: drop_fall
-- Says whose it was.
delete from fall where id = %(fall)s returning piece_id;
