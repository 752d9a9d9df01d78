-- name: cast_of
-- The cast in its order, with what undo and redo could do.
select w.id, w.name, w.shape, w.body_sha as body, w.outfit_id as outfit, e.parent_id is not null as can_undo,
       exists (select 1 from wearer_edit c where c.parent_id = w.edit_id) as can_redo
from wearer w left join wearer_edit e on e.id = w.edit_id
where w.production_id = %(production)s order by w.place, w.id;

-- name: wearer
-- One wearer, in whichever production.
select w.id, w.production_id as production, w.name, w.shape, w.body_sha as body, w.outfit_id as outfit, e.parent_id is not null as can_undo,
       exists (select 1 from wearer_edit c where c.parent_id = w.edit_id) as can_redo
from wearer w left join wearer_edit e on e.id = w.edit_id where w.id = %(wearer)s;

-- name: add_wearer
-- A new wearer stands at the end of the cast, in an outfit: the first of the production, if none is named.
with made as (
    insert into wearer (production_id, name, shape, body_sha, place, outfit_id)
    values (%(production)s, %(name)s, %(shape)s, %(body)s, (select coalesce(max(place), 0) + 1 from wearer where production_id = %(production)s),
            coalesce(%(outfit)s, (select id from outfit where production_id = %(production)s order by place, id limit 1)))
    returning id, outfit_id),
    owned as (insert into wearer_outfit (wearer_id, outfit_id) select id, outfit_id from made)
select id from made;

-- name: drop_wearer
-- The last wearer stays: a production without a cast shows nothing.
delete from wearer w where w.id = %(wearer)s
  and (select count(*) from wearer o where o.production_id = w.production_id) > 1 returning w.id;

-- name: lock_wearer
-- One change to a wearer at a time.
select id, name, shape, edit_id from wearer where id = %(wearer)s for update;

-- name: add_wearer_edit
-- A shape becomes the next edit of the one before it.
insert into wearer_edit (wearer_id, parent_id, shape, author) values (%(wearer)s, %(parent)s, %(shape)s, %(author)s) returning id;

-- name: stand_wearer
-- Point the wearer at an edit, whose shape it takes on.
update wearer set edit_id = %(edit)s, shape = (select shape from wearer_edit where id = %(edit)s) where id = %(wearer)s returning shape;

-- name: wearer_parent
-- What undo goes to.
select parent_id as id from wearer_edit where id = %(edit)s and parent_id is not null;

-- name: wearer_child
-- What redo goes to: the latest edit made from this one.
select id from wearer_edit where parent_id = %(edit)s order by id desc limit 1;
