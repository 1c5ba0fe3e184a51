package leanladder.text;

import java.time.Instant;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.estate.Ring;
import leanladder.preview.Arrival;
import leanladder.resolve.Climb;
import leanladder.resolve.Evidence;

/** Tells by what a need is met, or what is missing, as the end of a sentence. */
record EvidenceFormatter(EstateFormatter estateFormatter) {
    String of(Evidence evidence) {
        if (evidence instanceof Evidence.Seats seats)
            return seats.seats().isEmpty()
                    ? "no licence plan contains it"
                    : seats.seats().stream().map(this::seat).distinct().collect(Collectors.joining("; "));
        if (evidence instanceof Evidence.SettingValue other)
            return estateFormatter.inForce(other.setting(), other.value());
        if (evidence instanceof Evidence.KindMatch kind) return "is a " + estateFormatter.kind(kind.kind());
        if (evidence instanceof Evidence.ReleaseArrival releaseArrival) return arrival(releaseArrival.arrival());
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
        Evidence.SeatState seatState = seat.state();
        if (seatState instanceof Evidence.SeatState.Carries carries) return held(plan, carries.granted());
        if (seatState instanceof Evidence.SeatState.NoRule) return "no " + plan + " rule includes this account";
        if (seatState instanceof Evidence.SeatState.WrongKind wrong)
            return plan + " is not for a " + estateFormatter.kind(wrong.kind());
        if (seatState instanceof Evidence.SeatState.Waiting waiting)
            return plan + " has no seat free, waiting in place " + waiting.place();
        if (seatState instanceof Evidence.SeatState.TermToCome term)
            return plan + " begins only on " + estateFormatter.day(term.starts());
        if (seatState instanceof Evidence.SeatState.TermOver term)
            return plan + " ended on " + estateFormatter.day(term.ended());
        Evidence.SeatState.LeftOut out = (Evidence.SeatState.LeftOut) seatState;
        return held(plan, out.granted()) + ", component left out by rule "
                + out.rules().stream().map(String::valueOf).collect(Collectors.joining(" and "));
    }

    private String held(String plan, Optional<Instant> granted) {
        return plan + ", "
                + granted.map(g -> "seat held since " + estateFormatter.day(g)).orElse("seated");
    }

    private String arrival(Arrival arrival) {
        if (arrival instanceof Arrival.RingArrival come)
            return "open to " + come.ring().name() + " since " + estateFormatter.day(come.since());
        if (arrival instanceof Arrival.EarlyArrival come)
            return "opened early for " + estateFormatter.target(come.target()) + " on "
                    + estateFormatter.day(come.since());
        if (arrival instanceof Arrival.MissingConsent waits)
            return standsIn(waits.standsIn()) + ", but has not consented to previews";
        if (arrival instanceof Arrival.MissingOpening waits)
            return standsIn(waits.standsIn()) + "; "
                    + waits.next().map(this::opening).orElse("not open there yet");
        return "no release of it is planned yet";
    }

    private static String standsIn(Ring ring) {
        return "stands in " + ring.name();
    }

    private String opening(Arrival.Opening opening) {
        return opening.ring()
                .map(r -> "comes to " + r.name() + " on " + estateFormatter.day(opening.at()))
                .orElseGet(() -> "opens early on " + estateFormatter.day(opening.at()));
    }
}
