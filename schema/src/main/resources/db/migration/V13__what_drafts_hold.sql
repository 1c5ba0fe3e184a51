-- How much a step holds stands beside it, so that drafts are listed, and held within a bound, without being read.
alter table draft_step
    add column edits int generated always as (json_array_length(step)) stored,
    add column size bigint generated always as (octet_length(step::text)) stored;

create index draft_touched on draft (touched);
