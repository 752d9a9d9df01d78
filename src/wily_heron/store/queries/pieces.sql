-- name: pieces_of
-- The rail with each piece's standing edit and whether it can be undone or redone.
select p.id, p.production_id as production, p.outfit_id as outfit, p.name, p.category, p.rail, p.file_name, e.source_sha as source, p.stock_id as stock, p.colourway, p.dressed_by is not null as dressing,
       o.name as origin, oo.name as origin_outfit, o.edit_id <> p.origin_edit as origin_changed, e.id as edit, e.recipe, e.label, e.author, e.made_at, e.status, e.report, e.error, e.geometry_sha as geometry,
       coalesce(e.finished_sha, e.geometry_sha) as worn, e.thumb_sha as thumb, parent.geometry_sha as before,
       case when parent.label is not null then e.label end as undo_label,
       (select r.label from edit r where r.parent_id = e.id order by r.id desc limit 1) as redo_label
from piece p join edit e on e.id = p.edit_id left join edit parent on parent.id = e.parent_id
     left join piece o on o.id = p.origin_id left join outfit oo on oo.id = o.outfit_id
where p.production_id = %(production)s order by p.rail desc, p.id desc;

-- name: piece
-- One piece as `pieces_of` has it.
select p.id, p.production_id as production, p.outfit_id as outfit, p.name, p.category, p.rail, p.file_name, e.source_sha as source, p.stock_id as stock, p.colourway, p.dressed_by is not null as dressing,
       o.name as origin, oo.name as origin_outfit, o.edit_id <> p.origin_edit as origin_changed, e.id as edit, e.recipe, e.label, e.author, e.made_at, e.status, e.report, e.error, e.geometry_sha as geometry,
       coalesce(e.finished_sha, e.geometry_sha) as worn, e.thumb_sha as thumb, parent.geometry_sha as before,
       case when parent.label is not null then e.label end as undo_label,
       (select r.label from edit r where r.parent_id = e.id order by r.id desc limit 1) as redo_label
from piece p join edit e on e.id = p.edit_id left join edit parent on parent.id = e.parent_id
     left join piece o on o.id = p.origin_id left join outfit oo on oo.id = o.outfit_id
where p.id = %(piece)s;

-- name: rail_of
-- What is worn, from the skin outwards, without recipes and reports: a cell is measured at every move on the stage.
select p.id, p.outfit_id as outfit, p.name, p.rail, e.status, e.geometry_sha as geometry, coalesce(e.finished_sha, e.geometry_sha) as worn,
       coalesce(e.recipe->>'body', '') as body
from piece p join edit e on e.id = p.edit_id where p.production_id = %(production)s order by p.rail, p.id;

-- name: add_piece
-- A new piece goes on as the outermost of an outfit: the first of the production, if none is named.
insert into piece (production_id, outfit_id, name, category, rail, file_name)
values (%(production)s, coalesce(%(outfit)s, (select id from outfit where production_id = %(production)s order by place, id limit 1)),
        %(name)s, %(category)s, (select coalesce(max(rail), 0) + 1 from piece where production_id = %(production)s), %(file_name)s)
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
-- What undo goes to.
select parent_id as id from edit where id = %(edit)s and parent_id is not null;

-- name: newest_child_of
-- What redo goes to: the latest edit made from this one.
select id from edit where parent_id = %(edit)s order by id desc limit 1;

-- name: edit
-- One edit, whether its piece stands on it or not.
select e.id, e.piece_id as piece, p.production_id as production, e.parent_id as parent, e.recipe, e.source_sha as source, e.status,
       e.geometry_sha as geometry
from edit e join piece p on p.id = e.piece_id where e.id = %(edit)s;

-- name: finish_edit
-- What an edit came to; a failure before is forgotten.
update edit set status = 'done', report = %(report)s, geometry_sha = %(geometry)s, finished_sha = %(finished)s, thumb_sha = %(thumb)s,
                error = null where id = %(edit)s;

-- name: note_reports
-- What the steps that are done so far have found, while the others run.
update edit set report = %(report)s where id = %(edit)s and status = 'waiting' returning id;

-- name: fail_edit
-- What is wrong with an edit, told on its piece's bench.
update edit set status = 'failed', error = %(error)s, report = '{}' where id = %(edit)s;

-- name: change_piece
-- What is left out (null) stays.
update piece set name = coalesce(%(name)s, name), category = coalesce(%(category)s, category) where id = %(piece)s;

-- name: piece_of_geometry
-- The piece that an address once stood for: a bake goes on with it as it stands now.
select piece_id as id from edit where geometry_sha = %(sha)s order by id desc limit 1;

-- name: next_on_rail
-- The neighbour outwards or inwards of a piece in its outfit.
select n.id, n.rail from piece p join piece n on n.outfit_id = p.outfit_id and n.id <> p.id
where p.id = %(piece)s and case when %(outwards)s then (n.rail, n.id) > (p.rail, p.id) else (n.rail, n.id) < (p.rail, p.id) end
order by case when %(outwards)s then n.rail else -n.rail end, n.id limit 1;

-- name: set_rail
-- Its place on the rail: greater is further out.
update piece set rail = %(rail)s where id = %(piece)s;

-- name: drop_piece
-- Its edits go with it.
delete from piece where id = %(piece)s;

-- name: waiting_edits
-- Standing edits whose evaluation never finished; asked again at start.
select e.id from piece p join edit e on e.id = p.edit_id where e.status = 'waiting';

-- name: detach_piece
-- Edits and pieces point at one another: a piece lets go before it is dropped.
update piece set edit_id = null where id = %(piece)s;

-- name: evaluate_all_anew
-- Recipes are what is kept; all else about an edit follows from them.
update edit set status = 'waiting', report = null, error = null, geometry_sha = null, finished_sha = null, thumb_sha = null;

-- name: cut_from
-- The layout a piece was sewn from.
update piece set layout_id = %(layout)s where id = %(piece)s;

-- name: hung_from
-- The pieces sewn from a layout, the last first.
select p.id, p.name, e.recipe from piece p join edit e on e.id = p.edit_id where p.layout_id = %(layout)s order by p.id desc;

-- name: from_stock
-- The item of the stock a piece came from, or was put into stock as.
update piece set stock_id = %(item)s where id = %(piece)s;

-- name: wear_colourway
-- The colourway a piece is in; null: as it came.
update piece set colourway = %(name)s where id = %(piece)s;

-- name: pieces_from_stock
-- The pieces on any rail that came from an item.
select p.id, p.name, p.colourway, e.recipe from piece p join edit e on e.id = p.edit_id where p.stock_id = %(item)s;

-- name: stands_for_origin
-- A copy that has taken over what its origin is now.
update piece set origin_edit = %(edit)s where id = %(piece)s;

-- name: origin_of
-- The origin of a copy, and the edit that it stands on.
select o.id, o.edit_id as edit from piece p join piece o on o.id = p.origin_id where p.id = %(piece)s;

-- name: wait_again
-- What failed is tried once more; only a failed edit is.
update edit set status = 'waiting', error = null where id = %(edit)s and status = 'failed' returning id;

-- name: to_dress
-- Somebody waits for it to be put on.
update piece set dressed_by = %(artist)s where id = any(%(pieces)s);

-- name: dressing_over
-- It is put on, or cannot be.
update piece set dressed_by = null where id = %(piece)s;

-- name: being_dressed
-- Pieces that somebody waits for, by production and artist, from the skin outwards.
select production_id as production, dressed_by as artist, array_agg(id order by rail, id) as pieces
from piece where dressed_by is not null group by production_id, dressed_by order by production_id, dressed_by;
