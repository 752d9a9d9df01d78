-- name: pieces_of
-- The rail with each piece's standing edit and whether it can be undone or redone.
select p.id, p.name, p.category, p.rail, p.file_name, e.source_sha, p.stock_id, p.colourway, e.id as edit_id, e.recipe, e.label, e.author, e.made_at, e.status,
       e.report, e.error, e.geometry_sha, coalesce(e.finished_sha, e.geometry_sha) as worn_sha, e.thumb_sha, parent.label is not null as can_undo, e.label as undo_label,
       parent.geometry_sha as before_sha,
       (select r.label from edit r where r.parent_id = e.id order by r.id desc limit 1) as redo_label
from piece p join edit e on e.id = p.edit_id left join edit parent on parent.id = e.parent_id
where p.production_id = %(production)s order by p.rail desc, p.id desc;

-- name: piece
-- One piece with its standing edit.
select p.*, e.source_sha, e.recipe, e.status, e.report, e.error, e.geometry_sha, e.label from piece p join edit e on e.id = p.edit_id where p.id = %(piece)s;

-- name: add_piece
-- A new piece goes on as the outermost.
insert into piece (production_id, name, category, rail, file_name)
values (%(production)s, %(name)s, %(category)s,
        (select coalesce(max(rail), 0) + 1 from piece where production_id = %(production)s), %(file_name)s)
returning id;

-- name: lock_piece
-- One change to a piece at a time.
select edit_id from piece where id = %(piece)s for update;

-- name: add_edit
-- An edit is made from what the one before it was, unless it brings something else.
insert into edit (piece_id, parent_id, recipe, label, author, source_sha)
values (%(piece)s, %(parent)s, %(recipe)s, %(label)s, %(author)s,
        coalesce(%(source)s, (select source_sha from edit where id = %(parent)s)))
returning id;

-- name: stand_on
-- Point the piece at an edit.
update piece set edit_id = %(edit)s where id = %(piece)s;

-- name: parent_of
select parent_id from edit where id = %(edit)s;

-- name: newest_child_of
-- What redo goes to: the latest edit made from this one.
select id from edit where parent_id = %(edit)s order by id desc limit 1;

-- name: edit
select e.*, p.file_name, p.production_id from edit e join piece p on p.id = e.piece_id where e.id = %(edit)s;

-- name: finish_edit
update edit set status = 'done', report = %(report)s, geometry_sha = %(geometry)s, finished_sha = %(finished)s, thumb_sha = %(thumb)s,
                error = null where id = %(edit)s;

-- name: fail_edit
update edit set status = 'failed', error = %(error)s, report = %(report)s where id = %(edit)s;

-- name: rename_piece
update piece set name = %(name)s where id = %(piece)s;

-- name: piece_of_geometry
select piece_id from edit where geometry_sha = %(sha)s order by id desc limit 1;

-- name: set_category
update piece set category = %(category)s where id = %(piece)s;

-- name: next_on_rail
-- The neighbour outwards or inwards of a piece.
select n.id, n.rail from piece p join piece n on n.production_id = p.production_id and n.id <> p.id
where p.id = %(piece)s and case when %(outwards)s then (n.rail, n.id) > (p.rail, p.id) else (n.rail, n.id) < (p.rail, p.id) end
order by case when %(outwards)s then n.rail else -n.rail end, n.id limit 1;

-- name: set_rail
update piece set rail = %(rail)s where id = %(piece)s;

-- name: drop_piece
delete from piece where id = %(piece)s;

-- name: waiting_edits
-- Standing edits whose evaluation never finished; asked again at start.
select e.id from piece p join edit e on e.id = p.edit_id where e.status = 'waiting';

-- name: detach_piece
update piece set edit_id = null where id = %(piece)s;

-- name: computed_on
select version from computed_on where what = %(what)s;

-- name: set_computed_on
insert into computed_on (what, version) values (%(what)s, %(version)s) on conflict (what) do update set version = excluded.version;

-- name: evaluate_all_anew
-- Recipes are what is kept; all else about an edit follows from them.
update edit set status = 'waiting', report = null, error = null, geometry_sha = null, finished_sha = null, thumb_sha = null;

-- name: cut_from
update piece set layout_id = %(layout)s where id = %(piece)s;

-- name: hung_from
-- The pieces sewn from a layout, the last first.
select p.id, p.name, e.recipe from piece p join edit e on e.id = p.edit_id where p.layout_id = %(layout)s order by p.id desc;
