package leanladder.estate.read;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import leanladder.catalogue.Catalogue;
import leanladder.document.Defects;
import leanladder.document.Place;
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

/** Reads single parts of the directory as an edit brings them, by the rules of the whole file (estate-format.md). */
public final class Parts {
    private Parts() {}

    /** A unit; what does not fit is reported. Whether its parent exists is not looked at. */
    public static Optional<Unit> unit(Place place) {
        return DirectoryReader.readUnit(place);
    }

    /** An account; what does not fit is reported. Whether its unit and rings exist is not looked at. */
    public static Optional<Account> account(Place place) {
        return DirectoryReader.readAccount(place);
    }

    /** A group with its members; what does not fit is reported. Whether those it names exist is not looked at. */
    public static Optional<Group> group(Place place) {
        return DirectoryReader.readGroup(place)
                .map(g -> new Group(
                        g.id(), g.name(), g.access(), g.owners(), DirectoryReader.members(place.items("members"))));
    }

    /** A plan, its holders aside; what does not fit is reported. */
    public static Optional<Plan> plan(Place place, Catalogue catalogue, PolicyReader policies) {
        return new LicenceReader(catalogue.entitlements().keySet(), policies).plan(place);
    }

    /** Holders as a file lists them, found to fit. */
    public static List<Plan.Holder> holders(JsonNode list) {
        List<Plan.Holder> holders = new ArrayList<>(list.size());
        Defects defects = new Defects();
        list.forEach(h -> LicenceReader.holder(new Place(h, "", defects)).ifPresent(holders::add));
        return holders;
    }

    /** A rule of a plan as it stands; what does not fit is reported. */
    public static Optional<Plan.Rule> rule(Place place, Plan plan, PolicyReader policies) {
        return new LicenceReader(Set.copyOf(plan.components()), policies).rule(place, plan.components());
    }

    /** A release; what does not fit is reported. */
    public static Optional<Release> release(
            Place place, List<String> rings, PolicyReader policies, Predicate<String> hasSetting) {
        return new LicenceReader(Set.of(), policies).release(place, Set.copyOf(rings), hasSetting);
    }

    /** What somebody found of a release; what does not fit is reported. */
    public static Optional<Feedback> feedback(Place place) {
        return FeedbackReader.feedback(place);
    }

    /** Preview rings from the innermost outwards; what does not fit is reported. */
    public static List<Ring> rings(List<Place> places) {
        return LicenceReader.rings(places);
    }

    /** Seats that were bought together; what does not fit is reported. */
    public static Optional<Purchase> purchase(Place place) {
        return LicenceReader.purchase(place);
    }

    /** A workspace with its members; what does not fit is reported. Whether those it names exist is not looked at. */
    public static Optional<Workspace> workspace(Place place) {
        return DirectoryReader.readWorkspace(place)
                .map(w -> new Workspace(
                        w.id(),
                        w.name(),
                        w.size(),
                        w.trial(),
                        w.stewards(),
                        DirectoryReader.members(place.items("members"))));
    }

    /** Members as a list names them, {@code account:ID} or {@code group:ID}; what does not fit is reported and left out. */
    public static Members members(List<Place> items) {
        return DirectoryReader.members(items);
    }
}
