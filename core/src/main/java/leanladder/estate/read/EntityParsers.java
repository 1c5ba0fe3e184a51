package leanladder.estate.read;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import leanladder.catalogue.CatalogueFrame;
import leanladder.estate.Account;
import leanladder.estate.Feedback;
import leanladder.estate.Group;
import leanladder.estate.Hosting;
import leanladder.estate.Members;
import leanladder.estate.Plan;
import leanladder.estate.Purchase;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Track;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.json.Defects;
import leanladder.json.JsonCursor;
import leanladder.rule.GroupRule;

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
                        DirectoryReader.members(jsonCursor.items("members")),
                        g.rule()));
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

    /**
     * A release; what does not fit is reported.
     *
     * @param ringsOf by id of a track, which is empty for the main one, the ids of its rings; empty where there is no such track
     */
    public static Optional<Release> release(
            JsonCursor jsonCursor,
            Function<String, Optional<Set<String>>> ringsOf,
            PolicyReader policies,
            Predicate<String> hasSetting) {
        return new LicenceReader(Set.of(), policies).release(jsonCursor, ringsOf, hasSetting);
    }

    /** What somebody found of a release; what does not fit is reported. */
    public static Optional<Feedback> feedback(JsonCursor jsonCursor) {
        return FeedbackReader.feedback(jsonCursor);
    }

    /** Preview rings from the innermost outwards; what does not fit is reported. @param others further tracks, whose rings have other ids */
    public static List<Ring> rings(List<JsonCursor> places, List<Track> others) {
        Set<String> ids = new HashSet<>();
        others.forEach(track -> track.rings().forEach(ring -> ids.add(ring.id())));
        return LicenceReader.rings(places, ids);
    }

    /** Further tracks; what does not fit is reported. @param rings those of the main track, whose ids they must not have */
    public static List<Track> tracks(List<JsonCursor> places, List<Ring> rings) {
        Set<String> ids = new HashSet<>();
        rings.forEach(ring -> ids.add(ring.id()));
        List<Track> tracks = new ArrayList<>();
        for (JsonCursor place : places) LicenceReader.track(place, ids).ifPresent(tracks::add);
        return tracks;
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
                        w.hosting(),
                        w.size(),
                        w.trial(),
                        w.stewards(),
                        DirectoryReader.members(jsonCursor.items("members"))));
    }

    /** A hosting; what does not fit is reported. Whether those it names exist is not looked at. */
    public static Optional<Hosting> hosting(JsonCursor jsonCursor) {
        return DirectoryReader.readHosting(jsonCursor);
    }

    /** Reports units and groups that the rule of a group names and that do not exist. */
    public static void checkRule(GroupRule rule, JsonCursor place, References known) {
        DirectoryReader.checkRule(rule, place, known);
    }

    /** Members as a list names them, {@code account:ID} or {@code group:ID}; what does not fit is reported and left out. */
    public static Members members(List<JsonCursor> items) {
        return DirectoryReader.members(items);
    }
}
