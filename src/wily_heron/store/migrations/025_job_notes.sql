-- Why a job was ended from outside, or failed. No foreign key: the queue's own tables are made after ours, and by others.
create table job_note (
    job_id bigint primary key,
    why text not null,
    failed boolean not null,
    made_at timestamptz not null default now()
);
