package leanladder.settle;

import com.fasterxml.jackson.annotation.JsonValue;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * What can be on somebody's screen at an instant, and until when it can be something else (resolution.md, section 10).
 *
 * @param possible the values that can have arrived, in the order of their entries; the last is not among them while it is only coming
 * @param from when something may arrive, while it is not settled
 * @param until from when on it is settled, if nothing else comes
 * @param then the most laborious of what must be done
 */
public record Settling<V>(
        Progress state,
        List<V> possible,
        Optional<Instant> from,
        Optional<Instant> until,
        Optional<SettleTime.RequiredUserAction> then) {
    /** Whether anything is on its way. */
    public enum Progress {
        /** What is in force has arrived. */
        SETTLED,
        /** Something is on its way, and cannot have arrived yet. */
        COMING,
        /** Something is on its way, and may have arrived. */
        EITHER;

        /** How it is written. */
        @JsonValue
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * A value, and from when on it was in force.
     *
     * @param settles as the catalogue said then
     */
    public record Entry<V>(Instant at, V value, SettleTime settles) {
        Instant may() {
            return at.plus(settles.least());
        }

        Instant must() {
            return at.plus(settles.most());
        }
    }

    /** Neighbours with equal values made one, with the earlier instant. Entries come in the order of their instants. */
    public static <V> List<Entry<V>> history(List<Entry<V>> entries) {
        List<Entry<V>> history = new ArrayList<>();
        for (Entry<V> entry : entries)
            if (history.isEmpty() || !history.get(history.size() - 1).value().equals(entry.value())) history.add(entry);
        return history;
    }

    /**
     * What can have arrived by an instant. Linear in the history.
     *
     * @param history without equal neighbours, see {@link #history}; the first entry counts as arrived
     * @return empty before the first entry
     */
    public static <V> Optional<Settling<V>> at(List<Entry<V>> history, Instant at) {
        int last = -1;
        int arrived = -1;
        for (int i = 0; i < history.size() && !history.get(i).at().isAfter(at); i++) {
            last = i;
            if (i == 0 || !history.get(i).must().isAfter(at)) arrived = i;
        }
        if (last < 0) return Optional.empty();
        Set<V> possible = new LinkedHashSet<>();
        possible.add(history.get(arrived).value());
        boolean mayHave = false;
        List<Entry<V>> coming = history.subList(arrived + 1, last + 1);
        for (Entry<V> entry : coming)
            if (!entry.may().isAfter(at)) {
                possible.add(entry.value());
                mayHave = true;
            }
        if (coming.isEmpty())
            return Optional.of(new Settling<>(
                    Progress.SETTLED, List.copyOf(possible), Optional.empty(), Optional.empty(), Optional.empty()));
        return Optional.of(new Settling<>(
                mayHave ? Progress.EITHER : Progress.COMING,
                List.copyOf(possible),
                coming.stream().map(Entry::may).min(Comparator.naturalOrder()),
                Optional.of(history.get(last).must()),
                coming.stream().flatMap(e -> e.settles().then().stream()).max(Comparator.naturalOrder())));
    }
}
