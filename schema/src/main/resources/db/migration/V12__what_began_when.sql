-- What differs between two changes is found by what began and what ended between them: a past estate is the present one but for that.
create index part_since on part (since);
