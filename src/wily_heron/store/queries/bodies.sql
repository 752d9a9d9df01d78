-- name: add_body
insert into own_body (sha, production_id, name, model_sha, roles, found, author)
values (%(sha)s, %(production)s, %(name)s, %(model)s, %(roles)s, %(found)s, %(author)s)
on conflict (sha) do update set name = excluded.name;

-- name: bodies_of
select sha, name, found, roles, made_at from own_body where production_id = %(production)s order by made_at;

-- name: body
select * from own_body where sha = %(sha)s;

-- name: add_apart
insert into apart (production_id, file_name, model_sha, author) values (%(production)s, %(file_name)s, %(model)s, %(author)s) returning id;

-- name: aparts_of
select id, file_name, made_at, state, outcome from apart where production_id = %(production)s order by id desc;

-- name: apart
select a.*, e.labels_sha, e.parts, e.label, e.parent_id,
       (select c.id from apart_edit c where c.parent_id = e.id order by c.id desc limit 1) as child_id
from apart a join apart_edit e on e.id = a.edit_id where a.id = %(apart)s;

-- name: lock_apart
select id, edit_id from apart where id = %(apart)s for update;

-- name: add_apart_edit
insert into apart_edit (apart_id, parent_id, labels_sha, parts, label)
values (%(apart)s, %(parent)s, %(labels)s, %(parts)s, %(label)s) returning id;

-- name: stand_apart
update apart set edit_id = %(edit)s where id = %(apart)s;

-- name: apart_roles
update apart set roles = %(roles)s, places = %(places)s where id = %(apart)s;

-- name: apart_taking
update apart set state = 'taking', outcome = null where id = %(apart)s and state <> 'taking' returning id;

-- name: apart_taken
update apart set state = 'taken', outcome = %(outcome)s where id = %(apart)s;

-- name: apart_failed
update apart set state = 'failed', outcome = %(problem)s where id = %(apart)s;

-- name: drop_apart
delete from apart where id = %(apart)s;
