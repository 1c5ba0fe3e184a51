-- A change that writes a hundred thousand parts holds the journal's lock while it does. Both numbers come from the change that is
-- inserted in the same transaction, so the foreign keys protect nothing and cost a lookup for each row. What holds now has no until
-- and needs no entry in that index.
alter table part drop constraint part_since_fkey;
alter table part drop constraint part_until_fkey;
drop index part_until;
create index part_until on part (until) where until is not null;
