-- The journal: every published change, append-only. Numbers have no gaps.
create table change (
    number bigint primary key check (number > 0),
    at timestamptz not null,
    author text not null,
    proven boolean not null,
    note text not null,
    edits json not null
);

-- The parts of the estate, each row with the change from which and until which it holds. What holds now has no until; any past
-- estate is a WHERE. Bodies are json, not jsonb: they come back as they were written.
create table part (
    section text not null,
    key text not null,
    since bigint not null references change (number),
    until bigint references change (number),
    body json not null,
    primary key (section, key, since),
    check (until > since)
);

create unique index part_present on part (section, key) where until is null;
create index part_until on part (until);
