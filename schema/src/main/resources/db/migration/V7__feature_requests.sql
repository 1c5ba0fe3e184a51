-- What people ask for that is off for them, and what became of it. It decides nothing and is no part of the estate.
create table feature_request (
    id bigint generated always as identity primary key,
    account text not null,
    setting text not null,
    workspace text,
    wanted json not null,
    words text not null,
    asked timestamptz not null,
    state text not null default 'open' check (state in ('open', 'granted', 'declined')),
    answered timestamptz,
    answered_by text,
    sentence text,
    change bigint
);
create unique index feature_request_open on feature_request (account, setting, coalesce(workspace, '')) where state = 'open';
create index feature_request_account on feature_request (account, id);
