-- Calendars of what comes, each found by a secret that can be renewed: everyone's, and those of a ring, a unit or a person.
create table calendar (
    id bigint generated always as identity primary key,
    scope text not null unique,
    secret text not null unique,
    made timestamptz not null
);
