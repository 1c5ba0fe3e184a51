package leanladder.estate.read;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import leanladder.catalogue.CatalogueFrame;
import leanladder.estate.Account;
import leanladder.estate.Feedback;
import leanladder.estate.Group;
import leanladder.estate.Members;
import leanladder.estate.Plan;
import leanladder.estate.Purchase;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.json.Defects;
import leanladder.json.JsonCursor;

/** Reads single parts of the directory as an edit brings them, by the rules of the whole file (estate-format.md). */
public final class EntityParsers {
    private EntityParsers() {}

    /** A unit; what does not fit is reported. Whether its parent exists is not looked at. */
    public static Optional<Unit> unit(JsonCursor jsonCursor) {
        return DirectoryReader.readUnit(jsonCursor);
    }

    /** An account; what does not fit is reported. Whether its unit and rings exist is not looked at. */
    public static Optional<Account> account(JsonCursor jsonCursor) {
        return DirectoryReader.readAccount(jsonCursor);
    }

    /** A group with its members; what does not fit is reported. Whether those it names exist is not looked at. */
    public static Optional<Group> group(JsonCursor jsonCursor) {
        return DirectoryReader.readGroup(jsonCursor)
                .map(g -> new Group(
                        g.id(),
                        g.name(),
                        g.access(),
                        g.owners(),
                        DirectoryReader.members(jsonCursor.items("members"))));
    }

    /** A plan, its holders aside; what does not fit is reported. */
    public static Optional<Plan> plan(JsonCursor jsonCursor, CatalogueFrame frame, PolicyReader policies) {
        return new LicenceReader(frame.entitlements().keySet(), policies).plan(jsonCursor);
    }

    /** Holders as a file lists them, found to fit. */
    public static List<Plan.Holder> holders(JsonNode list) {
        List<Plan.Holder> holders = new ArrayList<>(list.size());
        Defects defects = new Defects();
        list.forEach(h -> LicenceReader.holder(new JsonCursor(h, "", defects)).ifPresent(holders::add));
        return holders;
    }

    /** A rule of a plan as it stands; what does not fit is reported. */
    public static Optional<Plan.Rule> rule(JsonCursor jsonCursor, Plan plan, PolicyReader policies) {
        return new LicenceReader(Set.copyOf(plan.components()), policies).rule(jsonCursor, plan.components());
    }

    /** A release; what does not fit is reported. */
    public static Optional<Release> release(
            JsonCursor jsonCursor, List<String> rings, PolicyReader policies, Predicate<String> hasSetting) {
        return new LicenceReader(Set.of(), policies).release(jsonCursor, Set.copyOf(rings), hasSetting);
    }

    /** What somebody found of a release; what does not fit is reported. */
    public static Optional<Feedback> feedback(JsonCursor jsonCursor) {
        return FeedbackReader.feedback(jsonCursor);
    }

    /** Preview rings from the innermost outwards; what does not fit is reported. */
    public static List<Ring> rings(List<JsonCursor> places) {
        return LicenceReader.rings(places);
    }

    /** Seats that were bought together; what does not fit is reported. */
    public static Optional<Purchase> purchase(JsonCursor jsonCursor) {
        return LicenceReader.purchase(jsonCursor);
    }

    /** A workspace with its members; what does not fit is reported. Whether those it names exist is not looked at. */
    public static Optional<Workspace> workspace(JsonCursor jsonCursor) {
        return DirectoryReader.readWorkspace(jsonCursor)
                .map(w -> new Workspace(
                        w.id(),
                        w.name(),
                        w.size(),
                        w.trial(),
                        w.stewards(),
                        DirectoryReader.members(jsonCursor.items("members"))));
    }

    /** Members as a list names them, {@code account:ID} or {@code group:ID}; what does not fit is reported and left out. */
    public static Members members(List<JsonCursor> items) {
        return DirectoryReader.members(items);
    }
}
