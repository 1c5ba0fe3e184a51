-- A check is of a workspace too, and a draft carries checks: they begin when it is published, and go where it is thrown away.
alter table arrival_check
    add column workspace text,
    add column draft bigint references draft (id) on delete cascade,
    add column within interval not null default interval '0',
    alter column due drop not null;
create index arrival_check_of_draft on arrival_check (draft) where draft is not null;
