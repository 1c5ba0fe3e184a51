package leanladder.advise;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import leanladder.estate.Plan;
import leanladder.reach.Directory;
import leanladder.seat.Allocation;
import leanladder.seat.Entitlements;
import org.roaringbitmap.RoaringBitmap;
import org.roaringbitmap.RoaringBitmapWriter;

/** Something about seats that is worth looking at. */
public sealed interface SeatFinding {
    /** How soon an end is worth telling: thirty days. */
    Duration SOON = Duration.ofDays(30);

    /** How long somebody is not seen before their seat is worth a look: sixty days. */
    Duration LONG = Duration.ofDays(60);

    /** How long a seat must have been held before it counts that nothing of it was used. */
    Duration LATELY = Duration.ofDays(30);

    /** The plan that it is about. */
    Plan plan();

    /** Accounts whose seat of a plan carries nothing that their seat of another does not; that other plan of which they are most. */
    record RedundantSeat(Plan plan, Plan other, RoaringBitmap accounts) implements SeatFinding {}

    /** A plan whose term ends soon. @param losing everyone who has a component by no other seat */
    record EndOfTerm(Plan plan, Instant at, RoaringBitmap losing) implements SeatFinding {}

    /** A plan whose term is over and whose rules still name somebody. */
    record PastTerm(Plan plan, Instant at, RoaringBitmap accounts) implements SeatFinding {}

    /** An include that brings in nobody. @param rule its position, from 1 */
    record IdleRule(Plan plan, int rule) implements SeatFinding {}

    /** Accounts that have a seat of a plan and were last seen long ago. One of which that is not known is not among them. */
    record IdleSeats(Plan plan, RoaringBitmap accounts) implements SeatFinding {}

    /** Accounts that have a seat of a plan for {@link #LATELY} at least and used nothing of what it carries in that time, as far as clients report usage. */
    record UnusedSeats(Plan plan, RoaringBitmap accounts) implements SeatFinding {}

    /** The same where no usage is reported. */
    static List<SeatFinding> findAll(Entitlements seats, Directory directory, Instant at) {
        return findAll(seats, directory, at, plan -> Optional.empty());
    }

    /**
     * Everything worth looking at, plan by plan. Linear in the accounts, and costs a set operation or two for each pair of plans and each rule.
     *
     * @param users who used lately what a plan carries; empty where that is not known, and then it counts when somebody was seen last
     */
    static List<SeatFinding> findAll(
            Entitlements seats, Directory directory, Instant at, Function<Plan, Optional<RoaringBitmap>> users) {
        List<SeatFinding> findings = new ArrayList<>();
        Carried carried = new Carried(seats);
        RoaringBitmap gone = notSeenSince(at.minus(LONG), directory);
        for (Allocation allocation : seats.allocations()) {
            Plan plan = allocation.plan();
            term(allocation, carried, at).ifPresent(findings::add);
            if (allocation.isInTerm() && !plan.components().isEmpty()) doubled(allocation, seats, carried, findings);
            if (allocation.isInTerm())
                idle(allocation, gone, users.apply(plan), at).ifPresent(findings::add);
            for (int i = 0; i < plan.rules().size(); i++) {
                var assignment = plan.rules().get(i).assignment();
                boolean idle = assignment.include()
                        && assignment.window().holds(at)
                        && !RoaringBitmap.intersects(directory.holding(assignment.target()), allocation.claimants());
                if (idle) findings.add(new IdleRule(plan, i + 1));
            }
        }
        return findings;
    }

    private static Optional<SeatFinding> idle(
            Allocation allocation, RoaringBitmap gone, Optional<RoaringBitmap> users, Instant at) {
        RoaringBitmap idle = users.map(
                        u -> heldSince(at.minus(LATELY), allocation, RoaringBitmap.andNot(allocation.seated(), u)))
                .orElseGet(() -> RoaringBitmap.and(allocation.seated(), gone));
        if (idle.isEmpty()) return Optional.empty();
        return Optional.of(
                users.isPresent() ? new UnusedSeats(allocation.plan(), idle) : new IdleSeats(allocation.plan(), idle));
    }

    /** Of everything worth looking at, what is held twice. Costs a set operation or two for each pair of plans. */
    static List<RedundantSeat> redundant(Entitlements seats) {
        List<SeatFinding> findings = new ArrayList<>();
        Carried carried = new Carried(seats);
        for (Allocation allocation : seats.allocations())
            if (allocation.isInTerm() && !allocation.plan().components().isEmpty())
                doubled(allocation, seats, carried, findings);
        return findings.stream().map(RedundantSeat.class::cast).toList();
    }

    /** Of everything worth looking at, what the terms of plans bring: {@link EndOfTerm} and {@link PastTerm}. Looks at no account. */
    static List<SeatFinding> ofTerms(Entitlements seats, Instant at) {
        Carried carried = new Carried(seats);
        return seats.allocations().stream()
                .flatMap(a -> term(a, carried, at).stream())
                .toList();
    }

    private static Optional<SeatFinding> term(Allocation allocation, Carried carried, Instant at) {
        Plan plan = allocation.plan();
        Optional<Instant> end = plan.term().until();
        if (end.isEmpty()) return Optional.empty();
        if (plan.term().isOver(at))
            return allocation.claimants().isEmpty()
                    ? Optional.empty()
                    : Optional.of(new PastTerm(plan, end.get(), allocation.claimants()));
        return end.get().isBefore(at.plus(SOON))
                ? Optional.of(new EndOfTerm(plan, end.get(), carried.onlyBy(allocation)))
                : Optional.empty();
    }

    private static RoaringBitmap heldSince(Instant since, Allocation allocation, RoaringBitmap accounts) {
        RoaringBitmapWriter<RoaringBitmap> held = RoaringBitmapWriter.writer().get();
        accounts.forEach((int n) -> {
            if (allocation.granted(n).filter(granted -> !granted.isAfter(since)).isPresent()) held.add(n);
        });
        return held.get();
    }

    private static RoaringBitmap notSeenSince(Instant at, Directory directory) {
        LocalDate since = at.atOffset(ZoneOffset.UTC).toLocalDate();
        RoaringBitmapWriter<RoaringBitmap> gone = RoaringBitmapWriter.writer().get();
        directory.active().forEach((int n) -> {
            Optional<LocalDate> seen = directory.account(n).lastSeen();
            if (seen.isPresent() && seen.get().isBefore(since)) gone.add(n);
        });
        return gone.get();
    }

    /** Who has which component through which plan; each set is made once, when it is asked for. */
    final class Carried {
        private final Entitlements seats;
        private final Map<Allocation, Map<String, RoaringBitmap>> sets = new HashMap<>();

        Carried(Entitlements seats) {
            this.seats = seats;
        }

        RoaringBitmap by(Allocation allocation, String component) {
            if (!allocation.plan().components().contains(component)) return new RoaringBitmap();
            return sets.computeIfAbsent(allocation, a -> new HashMap<>())
                    .computeIfAbsent(component, allocation::carrying);
        }

        /** Everyone who has a component of a plan by no other seat. */
        RoaringBitmap onlyBy(Allocation allocation) {
            RoaringBitmap only = new RoaringBitmap();
            for (String component : allocation.plan().components()) {
                RoaringBitmap here = by(allocation, component).clone();
                for (Allocation other : seats.allocations()) if (other != allocation) here.andNot(by(other, component));
                only.or(here);
            }
            return only;
        }

        /** Whether everyone with a seat of one plan has some component by it that another plan has not at all. */
        boolean exceeds(Allocation one, Allocation other) {
            return one.plan().components().stream()
                    .filter(c -> !other.plan().components().contains(c))
                    .anyMatch(c -> by(one, c).getCardinality() == one.seated().getCardinality());
        }
    }

    private static void doubled(
            Allocation allocation, Entitlements seats, Carried carried, List<SeatFinding> findings) {
        RedundantSeat most = null;
        for (Allocation other : seats.allocations()) {
            if (other == allocation || !other.isInTerm() || carried.exceeds(allocation, other)) continue;
            int best = most == null ? 0 : most.accounts.getCardinality();
            RoaringBitmap both = RoaringBitmap.and(allocation.seated(), other.seated());
            for (String component : allocation.plan().components()) {
                if (both.getCardinality() <= best) break;
                RoaringBitmap onlyHere = RoaringBitmap.and(both, carried.by(allocation, component));
                onlyHere.andNot(carried.by(other, component));
                both.andNot(onlyHere);
            }
            if (both.getCardinality() <= best) continue;
            // Of two plans that carry the same for somebody, one is named.
            boolean told = findings.stream()
                    .anyMatch(f ->
                            f instanceof RedundantSeat d && d.plan == other.plan() && d.other == allocation.plan());
            if (!told) most = new RedundantSeat(allocation.plan(), other.plan(), both);
        }
        if (most != null) findings.add(most);
    }
}
