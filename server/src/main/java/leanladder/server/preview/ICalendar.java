package leanladder.server.preview;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;

/** Writes a calendar of whole days (RFC 5545): lines are folded at 75 octets, never within a character, and end with CR LF. */
final class ICalendar {
    private static final int OCTETS = 75;
    private static final DateTimeFormatter DAY = DateTimeFormatter.BASIC_ISO_DATE;
    private static final DateTimeFormatter UTC =
            DateTimeFormatter.ofPattern("yyyyMMdd'T'HHmmss'Z'").withZone(ZoneOffset.UTC);

    private final StringBuilder text = new StringBuilder();

    /** Begins a calendar of this name. */
    ICalendar(String name) {
        line("BEGIN", "VCALENDAR");
        line("VERSION", "2.0");
        line("PRODID", "-//Lean Ladder//Arrivals//EN");
        line("CALSCALE", "GREGORIAN");
        line("NAME", escaped(name));
        line("REFRESH-INTERVAL;VALUE=DURATION", "PT1H");
    }

    /** How sure something is. */
    enum Status {
        CONFIRMED,
        TENTATIVE,
        CANCELLED
    }

    /** Something on a day. @param modified when what is told of it was altered last @param url a link, or empty */
    record Event(
            String uid,
            int sequence,
            Instant modified,
            LocalDate day,
            String summary,
            String description,
            String url,
            Status status) {}

    void add(Event event) {
        line("BEGIN", "VEVENT");
        line("UID", escaped(event.uid));
        line("DTSTAMP", UTC.format(event.modified));
        line("LAST-MODIFIED", UTC.format(event.modified));
        line("SEQUENCE", Integer.toString(event.sequence));
        line("DTSTART;VALUE=DATE", DAY.format(event.day));
        line("DTEND;VALUE=DATE", DAY.format(event.day.plusDays(1)));
        line("SUMMARY", escaped(event.summary));
        if (!event.description.isEmpty()) line("DESCRIPTION", escaped(event.description));
        if (!event.url.isEmpty()) line("URL", event.url);
        line("STATUS", event.status.name());
        line("TRANSP", "TRANSPARENT");
        line("END", "VEVENT");
    }

    /** The whole calendar. */
    String end() {
        line("END", "VCALENDAR");
        return text.toString();
    }

    private static String escaped(String text) {
        return text.replace("\\", "\\\\")
                .replace(";", "\\;")
                .replace(",", "\\,")
                .replace("\r\n", "\\n")
                .replace("\n", "\\n")
                .replaceAll("\\p{Cntrl}", " ");
    }

    private void line(String name, String value) {
        int octets = 0;
        String line = name + ":" + value;
        for (int i = 0; i < line.length(); ) {
            String character = new String(Character.toChars(line.codePointAt(i)));
            int more = character.getBytes(StandardCharsets.UTF_8).length;
            if (octets + more > OCTETS) {
                text.append("\r\n ");
                octets = 1;
            }
            text.append(character);
            octets += more;
            i += character.length();
        }
        text.append("\r\n");
    }
}
