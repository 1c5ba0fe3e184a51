package leanladder.change;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import leanladder.change.overlay.Edit;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.EditedPolicy;
import leanladder.change.overlay.Footprint;
import leanladder.change.overlay.Overlay;
import leanladder.change.overlay.PartType;
import leanladder.change.overlay.StoredParts;
import leanladder.change.overlay.Use;
import leanladder.document.CodePointOrder;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Estate;
import leanladder.estate.Policy;
import leanladder.estate.Release;
import leanladder.estate.read.Parts;
import leanladder.estate.read.Section;
import leanladder.resolve.Ground;

/**
 * An estate on which edits are carried out, one after the other; the estate itself stays as it is. Each edit is checked against
 * what the ones before it left; whatever does not fit is reported at its place and the edit is left out. {@link Kinds} lists the
 * kinds of edit there are.
 */
public final class Book {
    private final Overlay overlay;
    /** The estate as it was when it was asked for last, and what was touched since. */
    private Ground reached;

    private Footprint since = Footprint.EMPTY;

    /**
     * Opens an estate.
     *
     * @param stored finds the stored parts of its directory
     */
    public Book(Ground base, StoredParts stored) {
        this(new Overlay(base, stored), base);
    }

    private Book(Overlay overlay, Ground reached) {
        this.overlay = overlay;
        this.reached = reached;
    }

    /** The same book, on which edits can be tried. Costs nothing. */
    public synchronized Book copy() {
        Book copy = new Book(overlay.copy(), reached);
        copy.since = since;
        return copy;
    }

    /** Says which edits are going to be read, so that what they ask the store for is fetched together. */
    public void expect(List<JsonNode> edits) {
        List<String> accounts = new ArrayList<>();
        for (JsonNode edit : edits) accounts.addAll(Kinds.accountsAskedFor(edit));
        accounts.removeIf(id -> base().estate().account(id).isEmpty());
        overlay.expect(PartType.ACCOUNT, accounts);
    }

    /** Reads an edit without carrying it out; empty when it does not fit, which is then reported. */
    public Optional<Edit> read(Place place) {
        return read(place, overlay);
    }

    static Optional<Edit> read(Place place, Overlay on) {
        if (!place.isObject()) return Optional.empty();
        Optional<Place> named = place.required("kind");
        Optional<String> name = named.flatMap(Place::text);
        if (name.isEmpty()) return Optional.empty();
        Optional<EditKind> kind = Kinds.of(name.get());
        if (kind.isEmpty()) {
            named.get().defect(Kinds.UNKNOWN);
            return Optional.empty();
        }
        int found = place.defects().size();
        Optional<? extends Edit> edit = kind.get().read(place, on);
        return place.defects().size() > found ? Optional.empty() : edit.map(e -> e);
    }

    /** Carries an edit out that was read on this book as it stands. */
    public synchronized void carryOut(Edit edit) {
        since = since.and(carryOut(edit, overlay));
    }

    /** Carries an edit out and tells what it touched. */
    static Footprint carryOut(Edit edit, Overlay on) {
        Footprint touched = edit.footprint(on);
        on.touch(touched);
        edit.carryOut(on);
        return touched;
    }

    /** Reads an edit and carries it out; empty when it does not fit, which is then reported. */
    public Optional<Edit> apply(Place place) {
        Optional<Edit> edit = read(place);
        edit.ifPresent(this::carryOut);
        return edit;
    }

    /**
     * Puts parts in place as they stood once, without asking whether they fit: they did. What they are called in words, and what
     * edits would have led there, is not known.
     *
     * @param parts as the estate file wrote them; the body is empty of one that did not stand then
     * @param ranking the policies as they were ranked, where that was otherwise; those that it leaves out follow by id
     * @param rings all rings, where they were others
     */
    public synchronized void restore(List<Written> parts, Optional<JsonNode> ranking, Optional<JsonNode> rings) {
        Footprint touched = Footprint.EMPTY;
        if (rings.isPresent()) {
            overlay.restoreRings(Parts.rings(new Place(rings.get(), "", new Defects()).items()));
            touched = touched.and(Footprint.ofRings(overlay.base().estate().releases().stream()
                    .map(Release::setting)
                    .toList()));
        }
        Map<String, List<Written>> sections = parts.stream().collect(Collectors.groupingBy(Written::section));
        // Units stand before accounts and those before groups: what is read finds what it names.
        for (PartType<?> type : PartType.ALL)
            for (Written part : sections.getOrDefault(type.section().member(), List.of()))
                touched = touched.and(restored(type, part));
        for (Written part : sections.getOrDefault(Section.POLICIES.member(), List.of()))
            touched = touched.and(restoredPolicy(part));
        if (ranking.isPresent()) touched = touched.and(ranked(ranking.get(), touched.policies()));
        overlay.touch(touched);
        since = since.and(touched);
    }

    private Footprint restored(PartType<?> type, Written part) {
        Footprint touched = type.footprint(part.key(), Optional.empty(), overlay);
        if (part.body().isEmpty()) overlay.remove(type, part.key());
        else overlay.add(type, part.key(), part.body());
        return touched;
    }

    private Footprint restoredPolicy(Written part) {
        Set<String> settings = new HashSet<>(settingsOf(part.key()));
        overlay.restorePolicy(part.key(), Optional.of(part.body()).filter(body -> !body.isEmpty()));
        settings.addAll(settingsOf(part.key()));
        return Footprint.ofPolicy(part.key(), settings);
    }

    private List<String> settingsOf(String policy) {
        return overlay.hasPolicy(policy) ? overlay.policy(policy).settings() : List.of();
    }

    /**
     * Puts a ranking in place; what it touches are the policies that stand in another order than before, among those that stood before.
     *
     * @param restored ids of policies among which are all that were not there
     */
    private Footprint ranked(JsonNode ranking, Set<String> restored) {
        List<String> was = overlay.ranking().stream().filter(overlay::hasPolicy).toList();
        Set<String> all = new TreeSet<>(CodePointOrder.TEXTS);
        all.addAll(was);
        restored.stream().filter(overlay::hasPolicy).forEach(all::add);
        Set<String> is = new LinkedHashSet<>();
        ranking.forEach(id -> is.add(id.asText()));
        is.addAll(all);
        overlay.restoreRanking(List.copyOf(is));
        Set<String> stood = Set.copyOf(was);
        List<String> both = is.stream().filter(stood::contains).toList();
        Footprint touched = Footprint.EMPTY;
        for (int i = 0; i < both.size(); i++)
            if (!both.get(i).equals(was.get(i)))
                touched = touched.and(Footprint.ofPolicy(both.get(i), settingsOf(both.get(i))));
        return touched;
    }

    /** The estate that the edits started from. */
    public Ground base() {
        return overlay.base();
    }

    /** What the edits touch. */
    public Footprint footprint() {
        return overlay.footprint();
    }

    /** The estate while it is edited, to be asked. */
    public Overlay overlay() {
        return overlay;
    }

    /**
     * The estate as the edits left it. Costs what was edited since it was asked for last, and a copy of each list in which
     * something was.
     */
    public synchronized Ground after() {
        if (since.isEmpty()) return reached;
        if (since.touchesParts()) {
            Estate edited = reached.estate()
                    .with(new Estate.Changed(
                            overlay.compiled(PartType.UNIT, since.units()),
                            overlay.compiled(PartType.ACCOUNT, since.accounts()),
                            overlay.compiled(PartType.GROUP, since.groups()),
                            overlay.compiled(PartType.WORKSPACE, since.workspaces()),
                            overlay.compiled(PartType.PLAN, since.plans()),
                            overlay.compiled(PartType.SETTING, since.catalogue()),
                            overlay.compiled(PartType.RELEASE, since.releases()),
                            overlay.compiled(PartType.FEEDBACK, since.feedback()),
                            overlay.editedRings()));
            reached = since.touchesDirectory()
                    ? reached.withDirectory(
                            edited, reached.directory().with(edited, since.accounts(), since.tree(), since.groups()))
                    : reached.withEstate(edited);
        }
        if (!since.policies().isEmpty()) reached = reached.withPolicies(policies(), overlay.ranking());
        since = Footprint.EMPTY;
        return reached;
    }

    /** The policies as they are now, those that nobody edited shared. */
    private List<Policy> policies() {
        Map<String, EditedPolicy> edited = overlay.editedPolicies();
        List<Policy> policies = new ArrayList<>();
        for (String id : overlay.ranking())
            policies.add(
                    edited.containsKey(id)
                            ? edited.get(id).compiled()
                            : base().estate().policy(id).orElseThrow());
        return policies;
    }

    /** A part that is to be written. */
    public record Written(String section, String key, ObjectNode body) {}

    /** The parts that were added or changed and are still there. Asks for the stored bodies of those that were changed. */
    public List<Written> written() {
        List<Written> written = new ArrayList<>();
        for (PartType<?> type : PartType.ALL) {
            Map<String, ObjectNode> bodies = overlay.wholeBodies(type, overlay.writtenParts(type));
            for (String id : new TreeSet<>(bodies.keySet()))
                written.add(new Written(type.section().member(), id, bodies.get(id)));
        }
        Map<String, EditedPolicy> policies = overlay.editedPolicies();
        for (String id : new TreeSet<>(policies.keySet()))
            written.add(
                    new Written(Section.POLICIES.member(), id, policies.get(id).body()));
        return written;
    }

    /** The parts that the estate had and that are no more; their bodies are empty. */
    public List<Written> removed() {
        List<Written> removed = new ArrayList<>();
        ObjectNode none = Json.NODES.objectNode();
        for (PartType<?> type : PartType.ALL)
            for (String id : overlay.removedParts(type))
                removed.add(new Written(type.section().member(), id, none));
        for (String id : footprint().policies())
            if (!overlay.hasPolicy(id) && base().estate().policy(id).isPresent())
                removed.add(new Written(Section.POLICIES.member(), id, none));
        return removed;
    }

    /** The whole ranking, where it was changed; ids of policies, the strongest first. */
    public Optional<ArrayNode> writtenRanking() {
        if (!overlay.isRankingChanged()) return Optional.empty();
        ArrayNode ranking = Json.NODES.arrayNode();
        overlay.ranking().forEach(ranking::add);
        return Optional.of(ranking);
    }

    /** All rings, where they were edited, as the estate file writes them. */
    public Optional<ArrayNode> writtenRings() {
        return overlay.editedRings().map(rings -> {
            ArrayNode written = Json.NODES.arrayNode();
            rings.forEach(ring -> written.add(ring.source()));
            return written;
        });
    }

    /** What names a unit, account, group or workspace. */
    public List<Use> uses(Section section, String id) {
        return PartType.of(section).map(type -> overlay.uses(type, id)).orElse(List.of());
    }
}
