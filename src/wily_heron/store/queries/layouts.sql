-- name: layouts_of
-- The layouts of the cutting table, oldest first.
select l.id, l.name, e.wearer_id as wearer from layout l join layout_edit e on e.id = l.edit_id
where l.production_id = %(production)s order by l.id;

-- name: layout
-- One layout as it stands, with what undo and redo would do.
select l.id, l.name, l.edit_id as edit, e.wearer_id as wearer, e.shape, e.body as layout, e.label, e.author,
       e.parent_id is not null as can_undo,
       (select r.label from layout_edit r where r.parent_id = e.id order by r.id desc limit 1) as redo_label
from layout l join layout_edit e on e.id = l.edit_id where l.id = %(layout)s;

-- name: lock_layout
-- One change to a layout at a time.
select edit_id from layout where id = %(layout)s for update;

-- name: add_layout
-- A layout without panels; its first edit brings them.
insert into layout (production_id, name) values (%(production)s, %(name)s) returning id;

-- name: add_layout_edit
-- The whole layout after a change becomes the next edit.
insert into layout_edit (layout_id, parent_id, wearer_id, shape, body, label, author)
values (%(layout)s, %(parent)s, %(wearer)s, %(shape)s, %(body)s, %(label)s, %(author)s) returning id;

-- name: stand_layout_on
-- Point the layout at an edit.
update layout set edit_id = %(edit)s where id = %(layout)s;

-- name: layout_parent
-- What undo goes to.
select parent_id as id from layout_edit where id = %(edit)s and parent_id is not null;

-- name: layout_child
-- What redo goes to: the latest edit made from this one.
select id from layout_edit where parent_id = %(edit)s order by id desc limit 1;

-- name: drop_layout
-- Pieces that were sewn from it stay.
delete from layout where id = %(layout)s returning id;
