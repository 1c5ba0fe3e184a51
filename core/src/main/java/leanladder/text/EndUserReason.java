package leanladder.text;

import java.util.Optional;
import leanladder.preview.Arrival;
import leanladder.resolve.Climb;
import leanladder.resolve.Evidence;
import leanladder.resolve.Outcome;

/**
 * Why a person has what they have, in one sentence for that person: it names no policy and nobody else, and says "you".
 */
public final class EndUserReason {
    private final EstateFormatter estateFormatter;

    /** Reasons in these words. */
    public EndUserReason(EstateFormatter estateFormatter) {
        this.estateFormatter = estateFormatter;
    }

    /** The reason of an outcome: the first closed gate where one is closed, else from what height it comes. */
    public String of(Climb climb) {
        return climb.gates().stream()
                .filter(gate -> !gate.met())
                .findFirst()
                .map(gate -> inPart(climb) + closed(gate.evidence()))
                .orElseGet(() -> decided(climb.outcome()));
    }

    /** Of what works in part, what there is: "You have look; for change something is missing. ". */
    private String inPart(Climb climb) {
        Outcome outcome = climb.outcome();
        if (!climb.isPartial()) return "";
        return "You have “" + estateFormatter.value(climb.setting(), outcome.value()) + "”; for “"
                + estateFormatter.value(climb.setting(), outcome.decided()) + "” something is missing. ";
    }

    private String closed(Evidence evidence) {
        if (evidence instanceof Evidence.Seats seats)
            return seats.seats().stream()
                            .map(Evidence.Seat::state)
                            .anyMatch(Evidence.SeatState.Waiting.class::isInstance)
                    ? "It takes a licence, and there is none free at the moment; you are in the line for one."
                    : "It takes a licence that you do not have.";
        if (evidence instanceof Evidence.SettingValue other)
            return "It builds on something else: " + estateFormatter.inForce(other.setting(), other.value())
                    + " for you.";
        if (evidence instanceof Evidence.KindMatch) return "It is not meant for an account of your kind.";
        if (evidence instanceof Evidence.ReleaseArrival releaseArrival) return released(releaseArrival.arrival());
        if (evidence instanceof Evidence.Region) return "It is not offered where your company is.";
        if (evidence instanceof Evidence.Hosting hosting) {
            if (hosting.workspace().isEmpty()) return "It works only inside a workspace that is large enough for it.";
            if (hosting.on().filter(on -> !on.running()).isPresent())
                return "What the workspace that you are in runs on is paused.";
            return hosting.largeEnough()
                    ? "The workspace that you are in is on trial, and a trial does not include it."
                    : "The workspace that you are in is too small for it.";
        }
        if (evidence instanceof Evidence.WorkspaceRole)
            return "It takes another role in the workspace that you are in.";
        if (evidence instanceof Evidence.Devices devices)
            return devices.ofKind().isEmpty()
                    ? "It takes a device that you do not have."
                    : "Your device needs a newer version of the program.";
        return "Something that it needs is missing for you.";
    }

    private String released(Arrival arrival) {
        if (arrival instanceof Arrival.MissingConsent)
            return "It is a preview, and you have not joined it; look under “What is coming”.";
        Optional<Arrival.Opening> next = arrival instanceof Arrival.MissingOpening not ? not.next() : Optional.empty();
        return next.map(opening -> "It comes to you on " + estateFormatter.day(opening.at()) + ".")
                .orElse("It has not come to you yet, and no day is set.");
    }

    private static String decided(Outcome outcome) {
        if (outcome.cappedBy().isPresent()) return "There is a limit to it for you.";
        return switch (outcome.rung().kind()) {
            case BUILTIN -> "That is how the suite comes; your company has not decided anything about it.";
            case ORGANISATION -> "Your company has decided that for everyone.";
            case UNIT -> "It was decided for the part of the company that you work in.";
            case GROUP -> "It was decided for a group that you are in.";
            case HOSTING -> "It was decided for what the workspace that you are in runs on.";
            case WORKSPACE -> "It was decided for the workspace that you are in.";
            case PERSON -> "It was decided for you alone.";
        };
    }
}
