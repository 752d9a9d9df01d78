-- name: production
-- The production asked for, or the one opened last; what lies in the bin is not open to work.
select id, name from production
where binned_at is null and (id = %(production)s or %(production)s::integer is null) order by opened_at desc, id desc limit 1;

-- name: any_production
-- Whether the studio has begun at all; what lies in the bin counts.
select id from production limit 1;

-- name: hold_demo
-- Nobody else loads the demo until this transaction ends: two that load it at once would load it twice.
select pg_advisory_xact_lock(hashtext('the demo production'));

-- name: productions
-- Every production, the one opened last first, with what its card on the first page says.
select p.id, p.name, p.made_at, p.opened_at, p.binned_at,
       (select count(*) from wearer w where w.production_id = p.id) as wearers,
       (select count(*) from piece x where x.production_id = p.id) as pieces,
       (select count(*) from production_pose o where o.production_id = p.id) as poses,
       (select coalesce(sum(octet_length(b.bytes)), 0)::bigint from blob b where b.sha256 in (
            select unnest(array[e.source_sha, e.geometry_sha, e.finished_sha, e.thumb_sha])
            from edit e join piece x on x.id = e.piece_id where x.production_id = p.id)) as bytes,
       (select coalesce(array_agg(a.author order by a.last desc), '{}') from (
            select author, max(made_at) as last from (
                select e.author, e.made_at from edit e join piece x on x.id = e.piece_id where x.production_id = p.id
                union all select e.author, e.made_at from wearer_edit e join wearer w on w.id = e.wearer_id where w.production_id = p.id
            ) done group by author order by last desc limit 4) a) as artists,
       (select coalesce(json_agg(json_build_object('wearer', f.id, 'name', f.name) order by f.place, f.id), '[]')
        from (select w.id, w.name, w.place from wearer w where w.production_id = p.id order by w.place, w.id limit 4) f) as faces
from production p order by p.opened_at desc, p.id desc;

-- name: add_production
-- A production without cast, poses or pieces; its first outfit is there to hang them in.
with made as (insert into production (name) values (%(name)s) returning id),
     outfit as (insert into outfit (production_id, name, place) select id, 'First outfit', 1 from made)
select id from made;

-- name: rename_production
-- Its name is what people call it; its number stays.
update production set name = %(name)s where id = %(production)s returning id;

-- name: open_production
-- The one opened last is what an address without a production means.
update production set opened_at = now() where id = %(production)s and binned_at is null returning id;

-- name: bin_production
-- Nothing of it is lost until the bin is emptied.
update production set binned_at = now() where id = %(production)s and binned_at is null returning id;

-- name: restore_production
-- Out of the bin, to where it was.
update production set binned_at = null where id = %(production)s and binned_at is not null returning id;

-- name: empty_bin
-- Everything hangs on the production.
delete from production where binned_at is not null returning id;

-- name: drop_productions_named
-- Reset of the demo: the demo's own production goes, the others stay.
delete from production where name = %(name)s;

-- name: foreign_keys
-- What points at what in this schema, and whether a row goes along with what it points at.
select c.conrelid::regclass::text as held_by, a.attname as field, c.confrelid::regclass::text as of, f.attname as key,
       c.confdeltype = 'c' as goes_along
from pg_constraint c join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
     join pg_attribute f on f.attrelid = c.confrelid and f.attnum = c.confkey[1]
where c.contype = 'f' and c.connamespace = 'public'::regnamespace and c.conrelid::regclass::text !~ '^procrastinate'
order by c.conrelid::regclass::text, a.attname;

-- name: next_numbers
-- Numbers for rows that come in with those of another database.
select nextval(pg_get_serial_sequence(%(table)s, 'id'))::bigint as id from generate_series(1, %(count)s);

-- name: blobs_among
-- Which of these addresses there is something under.
select sha256, kind from blob where sha256 = any(%(shas)s);

-- name: evaluate_production_anew
-- It comes from an installation with another figure: recipes are what is kept, all else about an edit follows from them.
update edit set status = 'waiting', report = null, error = null, geometry_sha = null, finished_sha = null, thumb_sha = null
where piece_id in (select id from piece where production_id = %(production)s);

-- name: waiting_edits_of
-- Standing edits of a production whose evaluation never finished.
select e.id from piece p join edit e on e.id = p.edit_id where p.production_id = %(production)s and e.status = 'waiting';

-- name: primary_key
-- The fields that tell the rows of a table apart.
select a.attname as field from pg_index i join pg_attribute a on a.attrelid = i.indrelid and a.attnum = any(i.indkey)
where i.indrelid = %(table)s::regclass and i.indisprimary order by a.attnum;
