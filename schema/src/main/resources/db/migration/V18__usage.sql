-- Who used what: per setting and period (a day, later a week) the set of those who did, as a compressed bitmap of their numbers.
create table usage_account (
    account text primary key,
    number int generated always as identity unique
);

create table usage_period (
    setting text not null,
    day date not null,
    days smallint not null check (days in (1, 7)),
    people int not null,
    accounts bytea not null,
    primary key (setting, day)
);

-- How many items are shared outside by a setting, as it was reported last.
create table usage_item (
    setting text primary key,
    items bigint not null check (items >= 0),
    day date not null
);
