-- Of each change also the edits in words and the ripple, as they were when it was published: later names and states do not alter them.
alter table change add column words json not null default '[]';
alter table change add column ripple json not null default '{}';
create index change_at on change (at);
