package leanladder.text;

import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.estate.Device;
import leanladder.estate.Hosting;
import leanladder.estate.Ring;
import leanladder.estate.Workspace;
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
                    .map(w -> hosting(w, hosting.on().orElseThrow()))
                    .orElse("no particular workspace is asked about");
        if (evidence instanceof Evidence.WorkspaceRole role) return role(role);
        if (evidence instanceof Evidence.Devices devices) return devices(devices);
        Evidence.AnyOf anyOf = (Evidence.AnyOf) evidence;
        return anyOf.gates().stream()
                .filter(g -> !anyOf.met() || g.met())
                .map(Climb.Gate::evidence)
                .map(this::of)
                .distinct()
                .collect(Collectors.joining(anyOf.met() ? "; also " : "; and "));
    }

    private static String hosting(Workspace workspace, Hosting on) {
        return workspace.name()
                + (workspace.hosting().isPresent()
                        ? " runs on " + on.name() + ", of size " + on.size()
                        : " has hosting of size " + on.size())
                + (on.trial() ? ", on trial" : "")
                + (on.running() ? "" : ", paused");
    }

    private static String role(Evidence.WorkspaceRole role) {
        if (role.workspace().isEmpty()) return "no particular workspace is asked about";
        String roles = role.roles().stream().map(EstateFormatter::role).sorted().collect(Collectors.joining(" and "));
        return (roles.isEmpty() ? "neither steward nor member" : roles) + " of "
                + role.workspace().get().name();
    }

    /** "on 1 of 2 devices: Bridge tablet, Chat 5.2". */
    private String devices(Evidence.Devices devices) {
        int all = devices.all().size();
        if (all == 0) return "no device is known";
        List<Device> told = devices.fitting().isEmpty() ? devices.ofKind() : devices.fitting();
        String on = (devices.fitting().isEmpty()
                        ? "on none"
                        : "on " + devices.fitting().size())
                + (all == 1 ? " of one device" : " of " + all + " devices");
        if (told.isEmpty()) return on + "; there is none of this kind";
        return on + ": " + told.stream().map(estateFormatter::device).collect(Collectors.joining("; "));
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

    private static String standsIn(Optional<Ring> ring) {
        return ring.map(r -> "stands in " + r.name()).orElse("stands in no ring");
    }

    private String opening(Arrival.Opening opening) {
        return opening.ring()
                .map(r -> "comes to " + r.name() + " on " + estateFormatter.day(opening.at()))
                .orElseGet(() -> "opens early on " + estateFormatter.day(opening.at()));
    }
}
