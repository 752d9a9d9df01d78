-- A copy of a piece on another rail keeps its origin, and the edit of it that it stands for: what came later can be taken over.
alter table piece
    add column origin_id integer references piece on delete set null deferrable initially immediate,
    add column origin_edit bigint references edit on delete set null deferrable initially immediate;
create index piece_origin on piece (origin_id);
create index piece_origin_edit on piece (origin_edit);

-- Who has asked for a piece to be put on, until that is done: a job that is lost meanwhile is asked for again.
alter table piece add column dressed_by text;
