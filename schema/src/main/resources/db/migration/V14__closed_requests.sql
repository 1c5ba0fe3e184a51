-- A request is closed when nobody can answer it any more: its person or setting is gone, or a year has passed.
alter table feature_request drop constraint feature_request_state_check;
alter table feature_request add constraint feature_request_state_check check (state in ('open', 'granted', 'declined', 'closed'));
create index feature_request_open_setting on feature_request (setting, id) where state = 'open';
