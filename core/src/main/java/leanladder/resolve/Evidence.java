package leanladder.resolve;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.AccountKind;
import leanladder.catalogue.Need;
import leanladder.catalogue.Value;
import leanladder.estate.Device;
import leanladder.estate.Plan;
import leanladder.estate.Workspace;
import leanladder.preview.Arrival;

/** By what a need is met or not met for one account. The sentences are made elsewhere. */
public sealed interface Evidence {
    /** The seats of every plan that contains what is needed; where it is held, only those that carry it. */
    record Seats(List<Seat> seats) implements Evidence {}

    /** What another setting has in force. */
    record SettingValue(String setting, Value value) implements Evidence {}

    /** What kind the account is of. */
    record KindMatch(AccountKind kind) implements Evidence {}

    /** What became of the setting's release. */
    record ReleaseArrival(Arrival arrival) implements Evidence {}

    /** Where the organisation is, where it says so. */
    record Region(Optional<String> region) implements Evidence {}

    /**
     * The workspace asked about, if any.
     *
     * @param on what the workspace runs on
     * @param largeEnough whether its size would do, were it no trial and running
     */
    record Hosting(Optional<Workspace> workspace, Optional<leanladder.estate.Hosting> on, boolean largeEnough)
            implements Evidence {}

    /**
     * What the account is in the workspace asked about, if any.
     *
     * @param roles in catalogue order
     */
    record WorkspaceRole(Optional<Workspace> workspace, Set<Need.Role> roles) implements Evidence {}

    /**
     * The account's devices, and those that fit.
     *
     * @param fitting those that meet the need
     * @param ofKind those of a kind that is asked for
     */
    record Devices(List<Device> all, List<Device> ofKind, List<Device> fitting) implements Evidence {}

    /** What became of each of several needs, one of which is enough. */
    record AnyOf(boolean met, List<Climb.Gate> gates) implements Evidence {}

    /** What an account has of one plan, as far as one component is concerned. */
    record Seat(Plan plan, SeatState state) {}

    /** How an account stands to a plan and a component. */
    sealed interface SeatState {
        /** The seat carries the component. @param granted since when it is held; empty where the ledger does not name it */
        record Carries(Optional<Instant> granted) implements SeatState {}

        /** No rule of the plan reaches the account. */
        record NoRule() implements SeatState {}

        /** The plan is for other kinds of account. */
        record WrongKind(AccountKind kind) implements SeatState {}

        /** There is no seat for it. @param place in the line, from 1 */
        record Waiting(int place) implements SeatState {}

        /** The plan's term has not begun. */
        record TermToCome(Instant starts) implements SeatState {}

        /** The plan's term is over. */
        record TermOver(Instant ended) implements SeatState {}

        /** It is seated, but rules leave the component out. @param rules their positions, from 1 */
        record LeftOut(Optional<Instant> granted, List<Integer> rules) implements SeatState {}
    }
}
