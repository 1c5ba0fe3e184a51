package leanladder.suite;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Private talks of two, as long as the suite runs. Whether anybody may have one is decided elsewhere: it takes the control on both pages. */
final class ConversationDemo {
    static final String SETTING = "chat.private";
    private static final int MOST_TALKS = 1000;
    private static final int MOST_LINES = 200;
    private static final int LONGEST = 2000;

    private final Pages pages;
    private final Clock clock;
    private final Map<Pair, List<Line>> talks = new LinkedHashMap<>();

    ConversationDemo(Pages pages, Clock clock) {
        this.pages = pages;
        this.clock = clock;
    }

    /** Two accounts, in the order of their ids. */
    private record Pair(String one, String other) {
        static Pair of(String a, String b) {
            return a.compareTo(b) < 0 ? new Pair(a, b) : new Pair(b, a);
        }

        boolean has(String account) {
            return one.equals(account) || other.equals(account);
        }
    }

    /** Something that was written. */
    record Line(String from, Instant at, String text) {}

    /** A talk as one of the two sees it. @param open whether the other can be written to */
    record Talk(String with, boolean open, List<Line> lines) {}

    /** The talks of an account. */
    List<Talk> of(String account) {
        List<Talk> mine = new ArrayList<>();
        Map<Pair, List<Line>> all;
        synchronized (talks) {
            all = new LinkedHashMap<>(talks);
        }
        all.forEach((pair, lines) -> {
            if (!pair.has(account)) return;
            String other = pair.one.equals(account) ? pair.other : pair.one;
            mine.add(new Talk(other, pages.isThere(other, SETTING), lines));
        });
        return mine;
    }

    /** Writes to somebody. @throws HttpStatusException when one of the two has no private talks */
    void write(String from, String to, String text) {
        if (text.isBlank() || text.length() > LONGEST)
            throw new HttpStatusException(422, "A message has 1 to " + LONGEST + " characters.");
        if (from.equals(to)) throw new HttpStatusException(422, "A private talk takes two.");
        if (!pages.isThere(from, SETTING)) throw new HttpStatusException(403, "Private talks are not there for you.");
        if (!pages.isThere(to, SETTING))
            throw new HttpStatusException(403, "This person cannot be written to privately.");
        synchronized (talks) {
            List<Line> lines = new ArrayList<>(talks.getOrDefault(Pair.of(from, to), List.of()));
            lines.add(new Line(from, clock.instant(), text));
            while (lines.size() > MOST_LINES) lines.remove(0);
            talks.remove(Pair.of(from, to));
            talks.put(Pair.of(from, to), List.copyOf(lines));
            while (talks.size() > MOST_TALKS)
                talks.remove(talks.keySet().iterator().next());
        }
    }
}
