-- What a piece comes to once it is finished, where its recipe says how; the steps go on from geometry_sha.
alter table edit add column finished_sha text references blob;
