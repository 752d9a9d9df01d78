-- name: add_apart
-- A dressed body, not yet divided.
insert into apart (production_id, file_name, model_sha, author) values (%(production)s, %(file_name)s, %(model)s, %(author)s) returning id;

-- name: aparts_of
-- The dressed bodies of a production, the newest first.
select id, file_name, made_at, state, outcome from apart where production_id = %(production)s order by id desc;

-- name: apart
-- A dressed body as it is divided now, with what undo and redo would go to.
select a.id, a.production_id as production, a.file_name, a.model_sha as model, a.roles, a.places, a.author, a.made_at, a.state, a.outcome,
       e.labels_sha as labels, e.parts, e.label, e.parent_id as parent,
       (select c.id from apart_edit c where c.parent_id = e.id order by c.id desc limit 1) as child
from apart a join apart_edit e on e.id = a.edit_id where a.id = %(apart)s;

-- name: lock_apart
-- One change to a division at a time.
select id, edit_id from apart where id = %(apart)s for update;

-- name: add_apart_edit
-- A division becomes the next edit of the one before it.
insert into apart_edit (apart_id, parent_id, labels_sha, parts, label)
values (%(apart)s, %(parent)s, %(labels)s, %(parts)s, %(label)s) returning id;

-- name: stand_apart
-- Point the dressed body at a division.
update apart set edit_id = %(edit)s where id = %(apart)s;

-- name: apart_roles
-- What the artist says of joints takes the place of what was found.
update apart set roles = %(roles)s, places = %(places)s where id = %(apart)s;

-- name: apart_taking
-- Says whether it may begin: nobody takes it apart already.
update apart set state = 'taking', outcome = null where id = %(apart)s and state <> 'taking' returning id;

-- name: apart_ended
-- What came of taking it apart: it was taken, or it failed for a reason.
update apart set state = %(state)s, outcome = %(outcome)s where id = %(apart)s;

-- name: aparts_taking
-- Those that a crash left being taken apart; asked again at start.
select id from apart where state = 'taking';

-- name: drop_apart
-- What was taken from it stays.
delete from apart where id = %(apart)s;
