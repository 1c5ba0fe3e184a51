package leanladder.change;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.estate.Unit;
import leanladder.estate.read.Section;
import leanladder.reach.Directory;
import leanladder.resolve.Ground;

/**
 * An estate on which edits are carried out, one after the other; the estate itself stays as it is. Each edit is checked against
 * what the ones before it left; whatever does not fit is reported at its place and the edit is left out.
 *
 * <p>The forms of edits, by their member {@code kind}: {@code add-policy} (policy, below or above), {@code remove-policy} (policy), {@code
 * amend-policy} (policy, members), {@code put-statement} (policy, statement), {@code remove-statement} (policy, setting, says),
 * {@code put-assignment} and {@code remove-assignment} (policy, assignment), {@code rank-policy} (policy, above); {@code add-},
 * {@code amend-} and {@code remove-} with {@code unit}, {@code account} and {@code group} (unit, account or group, and members); {@code
 * put-members} and {@code remove-members} (group, who); {@code batch} (source, edits).
 */
public final class Book {
    private final Ground base;
    private final Bodies bodies;
    private DirectoryBook directory;
    private PolicyBook policies;

    /**
     * Opens an estate.
     *
     * @param bodies finds the stored parts of its directory
     */
    public Book(Ground base, Bodies bodies) {
        this.base = base;
        this.bodies = bodies;
        directory = new DirectoryBook(base, bodies);
        policies = new PolicyBook(base.estate(), directory);
    }

    /** The same book, on which edits can be tried. */
    public Book copy() {
        Book copy = new Book(base, bodies);
        copy.directory = directory.copy();
        copy.policies = policies.copy(copy.directory);
        return copy;
    }

    /** Reads an edit and carries it out; empty when it does not fit, which is then reported. */
    public Optional<Edit> apply(Place place) {
        return apply(place, edit -> {});
    }

    /**
     * The same, and lets somebody see every single edit, also those of a batch, after it was found to fit and before it is
     * carried out. When a batch does not fit as a whole, some of its edits may have been seen.
     */
    public Optional<Edit> apply(Place place, Consumer<Edit> before) {
        if (!place.isObject()) return Optional.empty();
        Optional<String> kind = place.required("kind").flatMap(Place::text);
        if (kind.isEmpty()) return Optional.empty();
        int found = place.defects().size();
        if (kind.get().equals("batch")) return batch(place, before);
        Optional<? extends Edit> edit = Optional.empty();
        if (PolicyBook.knows(kind.get())) edit = policies.read(kind.get(), place);
        else if (DirectoryBook.knows(kind.get())) edit = directoryEdits().read(kind.get(), place);
        else
            place.member("kind")
                    .orElseThrow()
                    .defect(
                            "must be the kind of an edit, such as put-statement, put-assignment, put-members or amend-account;"
                                    + " /api/v1/openapi.json lists them");
        if (place.defects().size() > found || edit.isEmpty()) return Optional.empty();
        before.accept(edit.get());
        if (edit.get() instanceof Edit.OfPolicy one) policies.carryOut(one);
        if (edit.get() instanceof Edit.OfDirectory one) directory.carryOut(one);
        return Optional.of(edit.get());
    }

    private Optional<Edit> batch(Place place, Consumer<Edit> before) {
        String source = place.member("source").flatMap(Place::text).orElse("");
        List<Place> places = place.required("edits").map(Place::items).orElse(List.of());
        int found = place.defects().size();
        if (places.isEmpty()) {
            place.defect("must hold at least one edit in \"edits\"");
            return Optional.empty();
        }
        DirectoryBook directoryBefore = directory.copy();
        PolicyBook policiesBefore = policies.copy(directoryBefore);
        List<Edit> edits = new ArrayList<>();
        for (Place item : places) {
            if (item.node().path("kind").asText().equals("batch"))
                item.defect("is a batch within a batch; put its edits beside the others");
            else apply(item, before).ifPresent(edits::add);
        }
        if (place.defects().size() > found) {
            directory = directoryBefore;
            policies = policiesBefore;
            return Optional.empty();
        }
        return Optional.of(new Edit.Batch(source, edits));
    }

    /** The estate that the edits started from. */
    public Ground base() {
        return base;
    }

    /** The estate as the edits left it. Costs what was changed, and a copy of each list in which something was. */
    public Ground after() {
        Ground ground = base;
        if (directory.isTouched()) {
            Estate estate = base.estate().withDirectory(directory.units(), directory.accounts(), directory.groups());
            Directory compiled = base.directory()
                    .with(
                            estate,
                            directory.accounts().keySet(),
                            directory.isTreeChanged(),
                            directory.groups().keySet());
            ground = base.withDirectory(estate, compiled);
        }
        return policies.isTouched() ? ground.withPolicies(policies.policies(), policies.ranking()) : ground;
    }

    /** Whether units, accounts or groups were edited. */
    public boolean isDirectoryTouched() {
        return directory.isTouched();
    }

    /** A part that is to be written. */
    public record Written(String section, String key, ObjectNode body) {}

    /** The parts that were added or changed and are still there. Asks for the stored bodies of those that were changed. */
    public List<Written> written() {
        List<Written> written = new ArrayList<>();
        for (Section section : List.of(Section.UNITS, Section.ACCOUNTS, Section.GROUPS))
            for (String id : directory.written(section))
                written.add(new Written(section.member(), id, directory.body(section, id)));
        for (String id : policies.written()) written.add(new Written(Section.POLICIES.member(), id, policies.body(id)));
        return written;
    }

    /** The parts that the estate had and that are no more; their bodies are empty. */
    public List<Written> removed() {
        List<Written> removed = new ArrayList<>();
        ObjectNode none = Json.NODES.objectNode();
        for (Section section : List.of(Section.UNITS, Section.ACCOUNTS, Section.GROUPS))
            for (String id : directory.removed(section)) removed.add(new Written(section.member(), id, none));
        for (String id : policies.removed()) removed.add(new Written(Section.POLICIES.member(), id, none));
        return removed;
    }

    /** The whole ranking, where it was changed; ids of policies, the strongest first. */
    public Optional<ArrayNode> writtenRanking() {
        if (!policies.isRankingChanged()) return Optional.empty();
        ArrayNode ranking = Json.NODES.arrayNode();
        policies.ranking().forEach(ranking::add);
        return Optional.of(ranking);
    }

    /** The name of a policy as it stands now; empty when there is none of this id. */
    public String policyName(String id) {
        return policies.name(id);
    }

    /** The name of a unit, account or group as it stands now; the id where there is none. */
    public String name(Section section, String id) {
        return directory.name(section, id);
    }

    /** The name of a unit with that of the unit above it. */
    public String placeName(String unit) {
        return directory.placeName(unit);
    }

    /** Whom a target names, as it stands now. */
    public String name(Target target) {
        return directory.name(target);
    }

    /** What names a unit, account or group, in words; see {@link DirectoryEdits#users}. */
    public List<String> users(Section section, String id) {
        return directoryEdits().users(section, id, true);
    }

    private DirectoryEdits directoryEdits() {
        return new DirectoryEdits(directory, base, policies);
    }

    Set<String> touchedSettings() {
        return policies.touchedSettings();
    }

    Set<String> touchedPolicies() {
        return policies.changed();
    }

    Map<String, Optional<Unit>> touchedUnits() {
        return directory.units();
    }

    Map<String, Optional<Account>> touchedAccounts() {
        return directory.accounts();
    }

    Map<String, Optional<Group>> touchedGroups() {
        return directory.groups();
    }

    boolean isTreeChanged() {
        return directory.isTreeChanged();
    }

    ObjectNode body(Section section, String id) {
        return section == Section.POLICIES ? policies.body(id) : directory.body(section, id);
    }

    List<String> ranking() {
        return policies.ranking();
    }

    Optional<ObjectNode> statement(String policy, String setting, boolean cap) {
        return policies.statement(policy, setting, cap);
    }

    Optional<ObjectNode> assignment(String policy, Assignment assignment) {
        return policies.assignment(policy, assignment);
    }

    Optional<Group> group(String id) {
        return directory.group(id);
    }

    /** The policies as they are now, strongest first. */
    List<Policy> policies() {
        return policies.policies();
    }
}
