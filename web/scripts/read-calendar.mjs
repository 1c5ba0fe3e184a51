// Reads a calendar (RFC 5545) from standard input and writes its events as JSON: a reader that is not ours, for the tests.
import { readFileSync } from 'node:fs';
import ICAL from 'ical.js';

const calendar = new ICAL.Component(ICAL.parse(readFileSync(0, 'utf8')));
const events = calendar.getAllSubcomponents('vevent').map((component) => {
  const event = new ICAL.Event(component);
  return {
    uid: event.uid,
    summary: event.summary,
    wholeDay: event.startDate.isDate,
    from: event.startDate.toString(),
    until: event.endDate.toString(),
    sequence: event.sequence,
    status: component.getFirstPropertyValue('status'),
  };
});
process.stdout.write(JSON.stringify(events));
