package leanladder.json;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads instants (RFC 3339 date-time, at most nine digits of fraction, no leap second) and days (RFC 3339 full-date). */
public final class Instants {
    private static final Pattern DATE_TIME = Pattern.compile("(\\d{4})-(\\d{2})-(\\d{2})[Tt](\\d{2}):(\\d{2}):(\\d{2})"
            + "(?:\\.(\\d{1,9}))?(?:[Zz]|([+-])(\\d{2}):(\\d{2}))");
    private static final Pattern DATE = Pattern.compile("(\\d{4})-(\\d{2})-(\\d{2})");

    private Instants() {}

    /** The instant that the text writes, or empty when it is not one. */
    public static Optional<Instant> instant(String text) {
        Matcher m = DATE_TIME.matcher(text);
        if (!m.matches()) return Optional.empty();
        try {
            LocalDateTime local = LocalDateTime.of(
                    number(m, 1), number(m, 2), number(m, 3), number(m, 4), number(m, 5), number(m, 6));
            int nanos = m.group(7) == null ? 0 : Integer.parseInt((m.group(7) + "000000000").substring(0, 9));
            long offset = 0;
            if (m.group(8) != null) {
                int hours = number(m, 9);
                int minutes = number(m, 10);
                if (hours > 23 || minutes > 59) return Optional.empty();
                offset = (m.group(8).equals("-") ? -1 : 1) * (hours * 3600L + minutes * 60L);
            }
            return Optional.of(local.toInstant(ZoneOffset.UTC).plusNanos(nanos).minusSeconds(offset));
        } catch (DateTimeException outOfRange) {
            return Optional.empty();
        }
    }

    /** The day that the text writes, or empty when it is not one. */
    public static Optional<LocalDate> day(String text) {
        Matcher m = DATE.matcher(text);
        if (!m.matches()) return Optional.empty();
        try {
            return Optional.of(LocalDate.of(number(m, 1), number(m, 2), number(m, 3)));
        } catch (DateTimeException outOfRange) {
            return Optional.empty();
        }
    }

    /** The last millisecond of a day in a time zone: what a day means where something is asked about, or ends. */
    public static Instant endOf(LocalDate day, ZoneId zone) {
        return day.plusDays(1).atStartOfDay(zone).toInstant().minusMillis(1);
    }

    private static int number(Matcher m, int group) {
        return Integer.parseInt(m.group(group));
    }
}
