-- The ledger: who holds a seat of which plan since when. Each row holds from one change until another, like a part, and says why the
-- seat was given and why it was returned; the rows that begin or end with a change are the seats that it moved. What is granted is
-- written as in the estate file; source is the holder as a file writes it, where that says more.
create table seat (
    plan text not null,
    account text not null,
    granted text not null,
    source json,
    since bigint not null,
    until bigint,
    given_because text not null,
    returned_because text,
    primary key (plan, account, since),
    check (until > since)
);

create index seat_since on seat (since);
create index seat_until on seat (until);
create index seat_account on seat (account);

insert into seat (plan, account, granted, source, since, until, given_because)
    select p.key, h.holder ->> 'account', h.holder ->> 'granted',
           case when (select count(*) from json_object_keys(h.holder)) > 2 then h.holder end, p.since, p.until,
           'the estate file lists it'
    from part p, json_array_elements(p.body -> 'holders') as h (holder)
    where p.section = 'plans' and json_typeof(p.body -> 'holders') = 'array';

-- A file that replaced the estate carries its ledger apart from its plans.
insert into carried (number, section, key, body)
    select number, 'holders', key, body -> 'holders' from carried
    where section = 'plans' and json_typeof(body -> 'holders') = 'array';

update part set body = (body::jsonb - 'holders')::json where section = 'plans' and body -> 'holders' is not null;
update carried set body = (body::jsonb - 'holders')::json where section = 'plans' and body -> 'holders' is not null;
