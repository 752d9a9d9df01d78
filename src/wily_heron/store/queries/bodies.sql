-- name: add_body
-- The same body has the same address; brought in again, it takes the newer name.
insert into own_body (sha, production_id, name, model_sha, roles, found, author)
values (%(sha)s, %(production)s, %(name)s, %(model)s, %(roles)s, %(found)s, %(author)s)
on conflict (sha) do update set name = excluded.name;

-- name: bodies_of
-- The bodies of one's own, oldest first.
select sha as body, name, found from own_body where production_id = %(production)s order by made_at;

-- name: body
-- Whether there is a body at an address.
select sha from own_body where sha = %(sha)s;
