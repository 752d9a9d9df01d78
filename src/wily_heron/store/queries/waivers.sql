-- name: waivers_of
-- What is left as it is, oldest first.
select id, wearer_id as wearer, pose, over_piece as over, reason, by_shots, author, made_at
from waiver where production_id = %(production)s order by id;

-- name: waive
-- A second waiver for the same pair in the same cell takes the new reason.
insert into waiver (production_id, wearer_id, pose, over_piece, reason, by_shots, author)
values (%(production)s, %(wearer)s, %(pose)s, %(over)s, %(reason)s, %(by_shots)s, %(author)s)
on conflict (production_id, wearer_id, pose, over_piece) do update set reason = excluded.reason, by_shots = excluded.by_shots, author = excluded.author, made_at = now()
returning id;

-- name: unwaive
-- It counts again.
delete from waiver where id = %(waiver)s and production_id = %(production)s returning id;

-- name: pins_of
-- The cells that matter.
select wearer_id as wearer, pose from pinned_cell where production_id = %(production)s;

-- name: pin
-- A cell is pinned once.
insert into pinned_cell (production_id, wearer_id, pose) values (%(production)s, %(wearer)s, %(pose)s) on conflict do nothing;

-- name: unpin
-- A cell that is not pinned stays as it is.
delete from pinned_cell where production_id = %(production)s and wearer_id = %(wearer)s and pose = %(pose)s;
