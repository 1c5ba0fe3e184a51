package leanladder.advise;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import leanladder.estate.Plan;
import leanladder.reach.Directory;
import leanladder.seat.Allocation;
import leanladder.seat.Entitlements;
import org.roaringbitmap.RoaringBitmap;

/** Something about seats that is worth looking at. */
public sealed interface SeatFinding {
    /** How soon an end is worth telling: thirty days. */
    Duration SOON = Duration.ofDays(30);

    /** The plan that it is about. */
    Plan plan();

    /** Accounts whose seat of a plan carries nothing that their seat of another does not. */
    record Double(Plan plan, Plan other, RoaringBitmap accounts) implements SeatFinding {}

    /** A plan whose term ends soon. @param losing everyone who has a component by no other seat */
    record Ending(Plan plan, Instant at, RoaringBitmap losing) implements SeatFinding {}

    /** A plan whose term is over and whose rules still name somebody. */
    record Expired(Plan plan, Instant at, RoaringBitmap accounts) implements SeatFinding {}

    /** An include that brings in nobody. @param rule its position, from 1 */
    record IdleRule(Plan plan, int rule) implements SeatFinding {}

    /** Everything worth looking at, plan by plan. Costs a few set operations for each pair of plans and each rule. */
    static List<SeatFinding> of(Entitlements seats, Directory directory, Instant at) {
        List<SeatFinding> findings = new ArrayList<>();
        for (Allocation allocation : seats.allocations()) {
            Plan plan = allocation.plan();
            plan.term().until().ifPresent(end -> {
                if (plan.term().isOver(at)) {
                    if (!allocation.claimants().isEmpty()) findings.add(new Expired(plan, end, allocation.claimants()));
                } else if (end.isBefore(at.plus(SOON)))
                    findings.add(new Ending(plan, end, onlyHere(allocation, seats)));
            });
            if (allocation.isInTerm() && !plan.components().isEmpty()) doubles(allocation, seats, findings);
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

    private static RoaringBitmap onlyHere(Allocation allocation, Entitlements seats) {
        RoaringBitmap losing = new RoaringBitmap();
        for (String component : allocation.plan().components()) {
            RoaringBitmap here = allocation.carrying(component);
            for (Allocation other : seats.allocations())
                if (other != allocation) here.andNot(other.carrying(component));
            losing.or(here);
        }
        return losing;
    }

    private static void doubles(Allocation allocation, Entitlements seats, List<SeatFinding> findings) {
        for (Allocation other : seats.allocations()) {
            if (other == allocation || !other.isInTerm()) continue;
            RoaringBitmap both = RoaringBitmap.and(allocation.seated(), other.seated());
            for (String component : allocation.plan().components()) {
                if (both.isEmpty()) break;
                both.andNot(RoaringBitmap.andNot(allocation.carrying(component), other.carrying(component)));
            }
            // Of two plans that carry the same for somebody, one is named once.
            boolean told = findings.stream()
                    .anyMatch(f -> f instanceof Double d && d.plan == other.plan() && d.other == allocation.plan());
            if (!both.isEmpty() && !told) findings.add(new Double(allocation.plan(), other.plan(), both));
        }
    }
}
