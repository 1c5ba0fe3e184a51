package leanladder.advise;

import java.math.BigDecimal;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import leanladder.estate.Estate;
import leanladder.estate.Plan;

/**
 * How edits alter what the seats of a plan cost. What is paid is what was bought, whoever holds it.
 *
 * @param from when it alters; empty where it does at once
 * @param seats how many seats more are paid for then; negative for fewer
 * @param more how much more they cost in each period; negative where they cost less
 * @param currency of the price after the edits, or before where the plan is gone
 * @param per the period, {@code month} or {@code year}
 */
public record CostChange(Plan plan, Optional<Instant> from, int seats, BigDecimal more, String currency, String per) {
    /** The first change of cost of each plan among these that has a price in one currency and period. Linear in purchases and rules. */
    public static List<CostChange> between(Estate before, Estate after, Set<String> plans, Instant now) {
        List<CostChange> changes = new ArrayList<>();
        for (String id : new TreeSet<>(plans)) {
            Optional<Plan> was = before.plan(id);
            Optional<Plan> is = after.plan(id);
            // The same edits can add a plan and remove it.
            if (was.isEmpty() && is.isEmpty()) continue;
            TreeSet<Instant> instants = new TreeSet<>(Set.of(now));
            Stream.of(was, is)
                    .flatMap(Optional::stream)
                    .flatMap(Plan::edges)
                    .filter(now::isBefore)
                    .forEach(instants::add);
            instants.stream()
                    .flatMap(at -> at(was, is, at, now).stream())
                    .findFirst()
                    .ifPresent(changes::add);
        }
        return changes;
    }

    private static Optional<CostChange> at(Optional<Plan> was, Optional<Plan> is, Instant at, Instant now) {
        Plan named = is.or(() -> was).orElseThrow();
        Optional<Plan.Price> old = was.flatMap(Plan::price);
        Optional<Plan.Price> price = is.flatMap(Plan::price).or(() -> old);
        boolean other = old.isPresent() && price.isPresent() && !old.get().isIn(price.get());
        if (price.isEmpty() || other) return Optional.empty();
        int seatsBefore = was.map(plan -> plan.seats(at)).orElse(0);
        int seatsAfter = is.map(plan -> plan.seats(at)).orElse(0);
        BigDecimal more = price.get()
                .times(seatsAfter)
                .subtract(old.map(p -> p.times(seatsBefore)).orElse(BigDecimal.ZERO));
        return more.signum() == 0
                ? Optional.empty()
                : Optional.of(new CostChange(
                        named,
                        Optional.of(at).filter(now::isBefore),
                        seatsAfter - seatsBefore,
                        more,
                        price.get().currency(),
                        price.get().per()));
    }
}
