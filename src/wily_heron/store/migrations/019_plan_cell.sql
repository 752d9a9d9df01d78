-- A plan may be for one cell of the sheet alone: its wearer and pose.
alter table plan add column cell jsonb;
