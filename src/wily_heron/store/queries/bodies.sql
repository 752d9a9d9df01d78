-- name: add_body
-- The same body has the same address; brought in again, it takes the newer name and belongs to the production it was brought into last.
insert into own_body (sha, production_id, name, model_sha, roles, found, author)
values (%(sha)s, %(production)s, %(name)s, %(model)s, %(roles)s, %(found)s, %(author)s)
on conflict (sha) do update set name = excluded.name, production_id = excluded.production_id;

-- name: bodies_of
-- The bodies of one's own that were brought into a production or are worn in it, oldest first.
select sha as body, name, found from own_body b
where production_id = %(production)s or exists (select 1 from wearer w where w.production_id = %(production)s and w.body_sha = b.sha)
order by made_at;

-- name: body
-- Whether there is a body at an address.
select sha from own_body where sha = %(sha)s;
