-- name: add_stock
-- A card and where its bytes are kept.
insert into stock_item (name, category, tags, note, origin, licence, file_name, source_sha, vertices, size_bytes, findings, added_by, words,
                        kind, content, height, low, made_for, shelf_id)
values (%(name)s, %(category)s, %(tags)s, %(note)s, %(origin)s, %(licence)s, %(file_name)s, %(source)s, %(vertices)s, %(size)s, %(findings)s,
        %(author)s, %(words)s, %(kind)s, %(content)s, %(height)s, %(low)s, %(made_for)s, %(shelf)s)
returning id;

-- name: strip_of
-- Eight views of an item side by side.
update stock_item set strip_sha = %(strip)s where id = %(item)s;

-- name: undrawn_stock
-- Items without views, the newest first; drawn again at start.
select id from stock_item where strip_sha is null order by id desc;

-- name: search_stock
-- Words begin as typed or stand anywhere inside; what the name begins with comes first, then what it holds. A shelf holds what its inner shelves hold. What fits was made for that body, and is of
-- a size to be worn by one of that stature.
with recursive inner_shelf as (
    select id from shelf where id = %(shelf)s::integer
    union select s.id from shelf s join inner_shelf i on s.parent_id = i.id
)
select s.id, s.name, s.category, s.kind, s.tags, s.note, s.origin, s.licence, s.file_name, s.strip_sha as strip, s.vertices, s.size_bytes, s.findings,
       s.favourite, s.added_by, s.added_at, s.shelf_id, s.version, s.content, s.retired_at is not null as retired,
       (select name from own_body b where b.sha = s.made_for) as made_for,
       coalesce((select array_agg(p.name order by p.name) from piece p where p.stock_id = s.id), '{}') as used_by,
       count(*) over () as total
from stock_item s
where (%(query)s::text is null or found @@ to_tsquery('simple', %(query)s::text) or words like %(like)s)
  and (%(category)s::text is null or category = %(category)s::text)
  and (%(kind)s::text is null or kind = %(kind)s::text)
  and (%(tag)s::text is null or %(tag)s::text = any (tags))
  and (%(shelf)s::integer is null or shelf_id in (select id from inner_shelf))
  and (%(stature)s::real is null
       or (kind = 'piece' and made_for is not distinct from %(body)s::text and height <= 1.12 * %(stature)s::real
           and coalesce(low, 0) > -0.05))
  and (%(used_in)s::integer is null or exists (select 1 from piece p where p.stock_id = s.id and p.production_id = %(used_in)s::integer))
  and (not %(favourites)s or favourite)
  and (retired_at is not null) = %(retired)s
order by case when %(query)s::text is null then 0 when lower(s.name) like %(starts)s then 0 when lower(s.name) like %(like)s then 1 else 2 end,
         case when %(sort)s = 'name' then lower(s.name) end, case when %(sort)s = 'size' then -vertices end,
         added_at desc, s.id desc
limit %(limit)s offset %(offset)s;

-- name: stock_categories
-- How many pieces are in each category.
select category as name, count(*) as count from stock_item where retired_at is null and kind = 'piece' group by category order by category;

-- name: stock_kinds
-- How many items are of each kind, the most first.
select kind as name, count(*) as count from stock_item where retired_at is null group by kind order by count(*) desc, kind;

-- name: stock_tags
-- The tags that are used most.
select tag as name, count(*) as count from stock_item, unnest(tags) tag where retired_at is null group by tag order by count(*) desc, tag limit 40;

-- name: stock_item
-- One card with where its bytes are kept.
select id, kind, name, category, tags, note, origin, licence, file_name, source_sha as source, strip_sha as strip, vertices, size_bytes, findings,
       favourite, made_for, shelf_id, version, content from stock_item where id = %(item)s;

-- name: change_stock
-- The words a search looks through are written anew.
update stock_item set name = %(name)s, category = %(category)s, tags = %(tags)s, note = %(note)s, origin = %(origin)s,
       licence = %(licence)s, favourite = %(favourite)s, words = %(words)s
where id = %(item)s;

-- name: retire_stock
-- Retired items are found no more; outfits that wear them keep them.
update stock_item set retired_at = case when %(retired)s then now() end where id = any(%(items)s) returning id;

-- name: shelve_stock
-- Many items on one shelf, or on none.
update stock_item set shelf_id = %(shelf)s where id = any(%(items)s);

-- name: tag_stock
-- A tag for many at once; the words a search looks through get it too.
update stock_item set tags = array_append(tags, %(tag)s), words = words || ' ' || %(tag)s
where id = any(%(items)s) and not %(tag)s = any(tags);

-- name: keep_version
-- What a newer version takes the place of is kept.
insert into stock_version (item_id, version, source_sha, file_name)
select id, version, source_sha, file_name from stock_item where id = %(item)s;

-- name: renew_stock
-- A newer version; its views are drawn anew.
update stock_item set source_sha = %(source)s, file_name = %(file_name)s, vertices = %(vertices)s, size_bytes = %(size)s,
       findings = %(findings)s, version = version + 1, strip_sha = null
where id = %(item)s;

-- name: copy_stock
-- A copy under another name, its bytes shared.
insert into stock_item (name, category, tags, note, origin, licence, file_name, source_sha, strip_sha, vertices, size_bytes, findings,
                        added_by, words, kind, content, height, low, made_for, shelf_id)
select %(name)s, category, tags, note, origin, licence, file_name, source_sha, strip_sha, vertices, size_bytes, findings,
       %(author)s, %(words)s, kind, content, height, low, made_for, shelf_id
from stock_item where id = %(item)s returning id;

-- name: copy_colourways
-- A copy has the colourways of what it was made from.
insert into colourway (item_id, name, materials) select %(to)s, name, materials from colourway where item_id = %(item)s;

-- name: stock_made_for
-- The body of one's own a piece was made for.
update stock_item set made_for = %(body)s where id = %(item)s;

-- name: drop_stock
-- Reset of the demo alone: stock in use is only ever retired.
delete from stock_item;

-- name: drop_stock_order
-- Reset of the demo alone.
with b as (delete from bundle), s as (delete from shelf) delete from batch;
