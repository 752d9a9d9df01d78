-- name: add_stock
insert into stock_item (name, category, tags, note, origin, licence, file_name, source_sha, vertices, size_bytes, findings, added_by, words)
values (%(name)s, %(category)s, %(tags)s, %(note)s, %(origin)s, %(licence)s, %(file_name)s, %(source)s, %(vertices)s, %(size)s, %(findings)s, %(author)s, %(words)s)
returning id;

-- name: strip_of
update stock_item set strip_sha = %(strip)s where id = %(item)s;

-- name: undrawn_stock
select id from stock_item where strip_sha is null order by id desc;

-- name: search_stock
-- Words begin as typed or stand anywhere inside; what the name begins with comes first.
select id, name, category, tags, note, origin, licence, file_name, strip_sha, vertices, size_bytes, findings, favourite, added_by,
       added_at, retired_at is not null as retired,
       (select count(*) from piece p where p.stock_id = s.id) as used, count(*) over () as total
from stock_item s
where (%(query)s::text is null or found @@ to_tsquery('simple', %(query)s::text) or words like %(like)s)
  and (%(category)s::text is null or category = %(category)s::text)
  and (%(tag)s::text is null or %(tag)s::text = any (tags))
  and (not %(favourites)s or favourite)
  and (retired_at is not null) = %(retired)s
order by case when %(sort)s = 'name' then lower(name) end, case when %(sort)s = 'size' then -vertices end,
         added_at desc, id desc
limit %(limit)s offset %(offset)s;

-- name: stock_categories
select category, count(*) as count from stock_item where retired_at is null group by category order by category;

-- name: stock_tags
select tag, count(*) as count from stock_item, unnest(tags) tag where retired_at is null group by tag order by count(*) desc, tag limit 40;

-- name: stock_item
select * from stock_item where id = %(item)s;

-- name: change_stock
update stock_item set name = %(name)s, category = %(category)s, tags = %(tags)s, note = %(note)s, favourite = %(favourite)s,
       words = %(words)s
where id = %(item)s;

-- name: retire_stock
update stock_item set retired_at = case when %(retired)s then now() end where id = %(item)s returning id;

-- name: from_stock
update piece set stock_id = %(item)s where id = %(piece)s;

-- name: drop_stock
-- Reset of the demo alone: stock in use is only ever retired.
delete from stock_item;

-- name: stock_made_for
update stock_item set made_for = %(body)s where id = %(item)s;
