-- Texts to people that wait to be handed over to a mail server, and those that were. The key tells the same occasion apart from others.
create table outgoing_mail (
    id bigint generated always as identity primary key,
    key text not null unique,
    address text not null,
    name text not null,
    subject text not null,
    body text not null,
    made timestamptz not null,
    due timestamptz not null,
    tries integer not null default 0,
    sent timestamptz,
    trouble text
);
create index outgoing_mail_due on outgoing_mail (due) where sent is null;
