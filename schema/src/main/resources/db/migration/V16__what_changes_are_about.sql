-- What a change is about, so that the logbook can be searched: policy:p1, setting:chat.private, account:mirela.osk, kind:seats. It is
-- worked out from the edits and the ripple and can be worked out again; null where that was not done yet.
alter table change add column subjects text[];
create index change_subjects on change using gin (subjects);
