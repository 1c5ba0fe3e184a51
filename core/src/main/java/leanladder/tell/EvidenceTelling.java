package leanladder.tell;

import java.time.Instant;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.estate.Ring;
import leanladder.preview.Arrival;
import leanladder.resolve.Climb;
import leanladder.resolve.Evidence;

/** Tells by what a need is met, or what is missing, as the end of a sentence. */
record EvidenceTelling(Wording wording) {
    String of(Evidence evidence) {
        if (evidence instanceof Evidence.Seats seats)
            return seats.seats().isEmpty()
                    ? "no licence plan contains it"
                    : seats.seats().stream().map(this::seat).distinct().collect(Collectors.joining("; "));
        if (evidence instanceof Evidence.InForce other) return wording.inForce(other.setting(), other.value());
        if (evidence instanceof Evidence.OfKind kind) return "is a " + wording.kind(kind.kind());
        if (evidence instanceof Evidence.Released released) return arrival(released.arrival());
        if (evidence instanceof Evidence.Region region)
            return region.region()
                    .map(r -> "the organisation is in " + r.toUpperCase(Locale.ROOT))
                    .orElse("the organisation names no region");
        if (evidence instanceof Evidence.Hosting hosting)
            return hosting.workspace()
                    .map(w -> w.name() + " has hosting of size " + w.size() + (w.trial() ? ", on trial" : ""))
                    .orElse("no particular workspace is asked about");
        Evidence.AnyOf anyOf = (Evidence.AnyOf) evidence;
        return anyOf.gates().stream()
                .filter(g -> !anyOf.met() || g.met())
                .map(Climb.Gate::evidence)
                .map(this::of)
                .distinct()
                .collect(Collectors.joining(anyOf.met() ? "; also " : "; and "));
    }

    private String seat(Evidence.Seat seat) {
        String plan = seat.plan().name();
        Evidence.State state = seat.state();
        if (state instanceof Evidence.State.Carries carries) return held(plan, carries.granted());
        if (state instanceof Evidence.State.NotMeant) return plan + " is not meant for this account";
        if (state instanceof Evidence.State.WrongKind wrong)
            return plan + " is not for a " + wording.kind(wrong.kind());
        if (state instanceof Evidence.State.Waiting waiting)
            return plan + " has no seat free, waiting in place " + waiting.place();
        if (state instanceof Evidence.State.TermToCome term)
            return plan + " begins only on " + wording.day(term.starts());
        if (state instanceof Evidence.State.TermOver term) return plan + " ended on " + wording.day(term.ended());
        Evidence.State.LeftOut out = (Evidence.State.LeftOut) state;
        return held(plan, out.granted()) + ", component left out by rule "
                + out.rules().stream().map(String::valueOf).collect(Collectors.joining(" and "));
    }

    private String held(String plan, Optional<Instant> granted) {
        return plan + ", "
                + granted.map(g -> "seat held since " + wording.day(g)).orElse("seated");
    }

    private String arrival(Arrival arrival) {
        if (arrival instanceof Arrival.ToRing come)
            return "open to " + come.ring().name() + " since " + wording.day(come.since());
        if (arrival instanceof Arrival.ToTarget come)
            return "opened early for " + wording.target(come.target()) + " on " + wording.day(come.since());
        if (arrival instanceof Arrival.NotConsented waits)
            return standsIn(waits.standsIn()) + ", but has not consented to previews";
        if (arrival instanceof Arrival.NotOpen waits)
            return standsIn(waits.standsIn()) + "; "
                    + waits.next().map(this::opening).orElse("not open there yet");
        return "no release of it is planned yet";
    }

    private static String standsIn(Ring ring) {
        return "stands in " + ring.name();
    }

    private String opening(Arrival.Opening opening) {
        return opening.ring()
                .map(r -> "comes to " + r.name() + " on " + wording.day(opening.at()))
                .orElseGet(() -> "opens early on " + wording.day(opening.at()));
    }
}
