-- Written expectations that a change has arrived on somebody's screen, and what was found when it was looked at.
create table arrival_check (
    id bigint generated always as identity primary key,
    who text not null,
    setting text not null,
    change bigint not null,
    written timestamptz not null,
    written_by text not null,
    due timestamptz not null,
    state text not null default 'waiting' check (state in ('waiting', 'arrived', 'missing')),
    looked timestamptz,
    words text
);
create index arrival_check_waiting on arrival_check (due) where state = 'waiting';
