-- name: own_fabrics
-- The studio's own fabrics by name.
select figures from own_fabric order by name;

-- name: keep_fabric
-- A fabric kept under a name that is there takes its place.
insert into own_fabric (name, figures, author) values (%(name)s, %(figures)s, %(author)s)
on conflict (name) do update set figures = excluded.figures, author = excluded.author, made_at = now();

-- name: forget_fabric
-- Says whether there was one to forget; what was draped in it keeps its figures.
delete from own_fabric where name = %(name)s returning name;
