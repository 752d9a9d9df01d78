-- name: layouts_of
select l.id, l.name, e.wearer_id, e.made_at from layout l join layout_edit e on e.id = l.edit_id
where l.production_id = %(production)s order by l.id;

-- name: layout
-- One layout as it stands, with what undo and redo would do.
select l.id, l.name, l.edit_id, e.wearer_id, e.shape, e.body, e.label, e.author, e.parent_id is not null as can_undo,
       (select r.label from layout_edit r where r.parent_id = e.id order by r.id desc limit 1) as redo_label
from layout l join layout_edit e on e.id = l.edit_id where l.id = %(layout)s;

-- name: lock_layout
select edit_id from layout where id = %(layout)s for update;

-- name: add_layout
insert into layout (production_id, name) values (%(production)s, %(name)s) returning id;

-- name: add_layout_edit
insert into layout_edit (layout_id, parent_id, wearer_id, shape, body, label, author)
values (%(layout)s, %(parent)s, %(wearer)s, %(shape)s, %(body)s, %(label)s, %(author)s) returning id;

-- name: stand_layout_on
update layout set edit_id = %(edit)s where id = %(layout)s;

-- name: layout_parent
select parent_id from layout_edit where id = %(edit)s;

-- name: layout_child
select id from layout_edit where parent_id = %(edit)s order by id desc limit 1;

-- name: rename_layout
update layout set name = %(name)s where id = %(layout)s returning id;

-- name: drop_layout
delete from layout where id = %(layout)s returning id;
