-- What became of each request that wrote, by its key: the same key again gets the same answer, and where the answer to a COMMIT was
-- lost it is found out here whether it was carried out. The reference is the number of a change or the id of a draft.
create table request (
    key text primary key,
    actor text not null,
    fingerprint text not null,
    at timestamptz not null,
    reference bigint not null,
    answer json
);

create index request_at on request (at);

-- The steps of a draft are rows, so that another one costs the same however many there are. Those undone come back in the order of
-- their numbers.
create table draft_step (
    draft bigint not null references draft (id) on delete cascade,
    number int not null,
    undone boolean not null,
    step json not null,
    primary key (draft, number)
);

alter table draft_step alter column step set compression lz4;

insert into draft_step (draft, number, undone, step)
    select d.id, s.number, false, s.step from draft d, json_array_elements(d.steps) with ordinality as s (step, number);

insert into draft_step (draft, number, undone, step)
    select d.id, json_array_length(d.steps) + s.number, true, s.step
    from draft d, json_array_elements(d.undone) with ordinality as s (step, number);

alter table draft drop column steps, drop column undone;

create index draft_due on draft (due) where due is not null and stuck is null;
