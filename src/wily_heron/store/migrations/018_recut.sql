-- A garment of the cutting table is hung anew from changed panels: what a piece is made from stands with each of its edits, so that it
-- undoes as all else does.
alter table edit add column source_sha text references blob;
update edit set source_sha = piece.source_sha from piece where piece.id = edit.piece_id;
alter table edit alter column source_sha set not null;
alter table piece drop column source_sha;
alter table piece add column layout_id bigint references layout on delete set null;
