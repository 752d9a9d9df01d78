-- What a plan has come to so far, so that one begun again goes on from there; gone once the plan is made.
create table plan_work (
    plan_id bigint not null references plan (id) on delete cascade,
    key text not null,
    value jsonb not null,
    primary key (plan_id, key)
);
