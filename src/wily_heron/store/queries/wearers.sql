-- name: drop_wearer
-- The last wearer stays: a production without a cast shows nothing.
delete from wearer w where w.id = %(wearer)s
  and (select count(*) from wearer o where o.production_id = w.production_id) > 1 returning w.id;

-- name: lock_wearer
select id, name, shape, edit_id from wearer where id = %(wearer)s for update;

-- name: add_wearer_edit
insert into wearer_edit (wearer_id, parent_id, shape, author) values (%(wearer)s, %(parent)s, %(shape)s, %(author)s) returning id;

-- name: stand_wearer
update wearer set edit_id = %(edit)s, shape = (select shape from wearer_edit where id = %(edit)s) where id = %(wearer)s returning shape;

-- name: wearer_parent
select parent_id as id from wearer_edit where id = %(edit)s and parent_id is not null;

-- name: wearer_child
-- What redo goes to: the latest edit made from this one.
select id from wearer_edit where parent_id = %(edit)s order by id desc limit 1;
