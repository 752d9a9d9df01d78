-- name: add_hunt
-- A hunt with what each body wears in it; the seed makes its poses again.
insert into hunt (production_id, outfit, seed, share) values (%(production)s, %(outfit)s, %(seed)s, %(share)s) returning id;

-- name: add_hunt_part
-- One wearer, or a mix of the cast, in so many poses.
insert into hunt_part (hunt_id, part, name, wearer_id, body_sha, shape, poses)
values (%(hunt)s, %(part)s, %(name)s, %(wearer)s, %(body)s, %(shape)s, %(poses)s);

-- name: hunt
-- One hunt without its parts.
select id, production_id as production, outfit, seed, share, state, started_at from hunt where id = %(hunt)s;

-- name: latest_hunt
-- The newest hunt of a production.
select id, production_id as production, outfit, seed, share, state, started_at
from hunt where production_id = %(production)s order by id desc limit 1;

-- name: hunt_part
-- One part of a hunt, and how far it is.
select part, name, body_sha as body, shape, poses, done from hunt_part where hunt_id = %(hunt)s and part = %(part)s;

-- name: hunt_parts
-- All parts of a hunt, and how far each is.
select part, name, body_sha as body, shape, poses, done from hunt_part where hunt_id = %(hunt)s order by part;

-- name: lock_hunt
-- The last two parts must not end side by side, each unseen by the other: nobody would close the hunt.
select id from hunt where id = %(hunt)s for update;

-- name: hunt_progress
-- So many of a part's poses are measured.
update hunt_part set done = %(done)s where hunt_id = %(hunt)s and part = %(part)s;

-- name: add_hunt_found
-- A job that is run again finds the same.
insert into hunt_found (hunt_id, part, place, rotations, figures, picture_sha)
values (%(hunt)s, %(part)s, %(place)s, %(rotations)s, %(figures)s, %(picture)s) on conflict do nothing;

-- name: hunt_worst
-- Each pose once, on whom it shows most, with how many it fails on.
select * from (
    select distinct on (f.place) f.part, f.place, f.rotations, f.figures, f.picture_sha as picture, p.name, p.wearer_id as wearer,
           p.body_sha as body, p.shape, (f.figures->>'area_cm2')::real + (f.figures->>'holes_cm2')::real as area,
           count(*) over (partition by f.place) as fails_on
    from hunt_found f join hunt_part p using (hunt_id, part)
    where f.hunt_id = %(hunt)s order by f.place, area desc
) found order by area desc limit %(most)s;

-- name: hunt_found_count
-- How many cells of a hunt failed.
select count(*) as found from hunt_found where hunt_id = %(hunt)s;

-- name: close_hunt_if_done
-- The last pose closes the hunt.
update hunt set state = 'done' where id = %(hunt)s and state = 'running'
  and not exists (select 1 from hunt_part where hunt_id = %(hunt)s and done < poses) returning id;

-- name: cancel_hunt
-- What was found stays; one that has ended stays as it ended.
update hunt set state = 'cancelled' where id = %(hunt)s and state = 'running' returning id;

-- name: open_hunt_parts
-- Those that a crash left; asked again at start.
select p.hunt_id as hunt, p.part from hunt_part p join hunt h on h.id = p.hunt_id where h.state = 'running' and p.done < p.poses;

-- name: reopen_hunt
-- A hunt that was given up goes on.
update hunt set state = 'running' where id = %(hunt)s and state = 'cancelled';
