package leanladder.edit.session;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import leanladder.catalogue.Setting;
import leanladder.edit.Edit;
import leanladder.edit.EditKind;
import leanladder.estate.Estate;
import leanladder.estate.Policy;
import leanladder.estate.Release;
import leanladder.estate.read.EntityParsers;
import leanladder.estate.read.Section;
import leanladder.json.CodePointOrder;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import leanladder.workingcopy.EntityStore;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;
import leanladder.workingcopy.PolicyDelta;
import leanladder.workingcopy.Reference;
import leanladder.workingcopy.WriteSet;

/**
 * An estate on which edits are carried out, one after the other; the estate itself stays as it is. Each edit is checked against
 * what the ones before it left; whatever does not fit is reported at its place and the edit is left out. {@link EditKinds} lists the
 * kinds of edit there are.
 */
public final class EditSession {
    private final Overlay overlay;
    /** The estate as it was when it was asked for last, and what was touched since. */
    private CompiledEstate reached;

    private WriteSet since = WriteSet.EMPTY;

    /**
     * Opens an estate.
     *
     * @param stored finds the stored parts of its directory
     */
    public EditSession(CompiledEstate base, EntityStore stored) {
        this(new Overlay(base, stored), base);
    }

    private EditSession(Overlay overlay, CompiledEstate reached) {
        this.overlay = overlay;
        this.reached = reached;
    }

    /** The same session, on which edits can be tried. Costs nothing. */
    public synchronized EditSession copy() {
        EditSession copy = new EditSession(overlay.copy(), reached);
        copy.since = since;
        return copy;
    }

    /** Says which edits are going to be read, so that what they ask the store for is fetched together. */
    public void expect(List<JsonNode> edits) {
        List<String> accounts = new ArrayList<>();
        for (JsonNode edit : edits) accounts.addAll(EditKinds.accountsAskedFor(edit));
        accounts.removeIf(id -> base().estate().account(id).isEmpty());
        overlay.expect(EntityType.ACCOUNT, accounts);
    }

    /** Applies an edit; empty when it does not fit, which is then reported at its place and leaves the session as it was. */
    public synchronized Optional<AppliedEdit> apply(JsonCursor edit) {
        Overlay trial = overlay.copy();
        Optional<AppliedEdit> applied = apply(edit, trial);
        applied.ifPresent(one -> {
            overlay.replaceWith(trial);
            since = since.and(one.touched());
        });
        return applied;
    }

    /** Applies an edit to a working copy, which is to be discarded where it does not fit. */
    public static Optional<AppliedEdit> apply(JsonCursor edit, Overlay on) {
        int found = edit.defects().size();
        Optional<Edit> read = EditKinds.read(edit);
        if (read.isEmpty()) return Optional.empty();
        EditKind kind = EditKinds.find(edit.node()).orElseThrow();
        if (!kind.checkNames(edit, on)) return Optional.empty();
        Overlay before = on.copy();
        Edit applied = read.get().apply(on, edit);
        if (edit.defects().size() > found) return Optional.empty();
        ObjectNode sent = (ObjectNode) edit.node();
        ObjectNode json = applied.equals(read.get()) ? sent : kind.write(applied, sent);
        return Optional.of(new AppliedEdit(kind, applied, json, before, on.takeMutations()));
    }

    /**
     * The parts of an estate file that are not entities. Each is empty where it was the same.
     *
     * @param ranking the policies as they were ranked; those that it leaves out follow by id
     * @param catalogue all of it but the settings
     * @param rings all rings of the main track
     * @param tracks all further tracks
     */
    public record FileFrame(
            Optional<JsonNode> ranking,
            Optional<JsonNode> catalogue,
            Optional<JsonNode> rings,
            Optional<JsonNode> tracks) {
        /** All parts were the same. */
        public static final FileFrame SAME =
                new FileFrame(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
    }

    /**
     * Puts parts in place as they stood once, without asking whether they fit: they did. What they are called in words, and what
     * edits would have led there, is not known.
     *
     * @param parts as the estate file wrote them; the body is empty of one that did not stand then
     */
    public synchronized void restore(List<WrittenEntity> parts, FileFrame frame) {
        WriteSet touched = WriteSet.EMPTY;
        if (frame.rings().isPresent()) {
            overlay.restoreRings(
                    EntityParsers.rings(new JsonCursor(frame.rings().get(), "", new Defects()).items(), List.of()));
            touched = touched.and(WriteSet.ofRings(overlay.base().estate().releases().stream()
                    .map(Release::setting)
                    .toList()));
        }
        if (frame.tracks().isPresent()) {
            overlay.restoreTracks(
                    EntityParsers.tracks(new JsonCursor(frame.tracks().get(), "", new Defects()).items(), List.of()));
            touched = touched.and(WriteSet.ofRings(overlay.base().estate().releases().stream()
                    .map(Release::setting)
                    .toList()));
        }
        Map<String, List<WrittenEntity>> sections =
                parts.stream().collect(Collectors.groupingBy(WrittenEntity::section));
        touched = touched.and(
                restoredCatalogue(frame.catalogue(), sections.getOrDefault(Section.SETTINGS.member(), List.of())));
        // Units stand before accounts and those before groups: what is read finds what it names.
        for (EntityType<?> type : EntityType.ALL)
            if (type != EntityType.SETTING)
                for (WrittenEntity part : sections.getOrDefault(type.section().member(), List.of()))
                    touched = touched.and(restored(type, part));
        for (WrittenEntity part : sections.getOrDefault(Section.POLICIES.member(), List.of()))
            touched = touched.and(restoredPolicy(part));
        if (frame.ranking().isPresent())
            touched = touched.and(ranked(frame.ranking().get(), touched.policies()));
        overlay.touch(touched);
        overlay.takeMutations();
        since = since.and(touched);
    }

    private WriteSet restoredCatalogue(Optional<JsonNode> frame, List<WrittenEntity> settings) {
        if (frame.isEmpty() && settings.isEmpty()) return WriteSet.EMPTY;
        Map<String, ObjectNode> bodies = new HashMap<>();
        settings.forEach(s -> bodies.put(s.key(), s.body()));
        overlay.restoreCatalogue(frame.map(ObjectNode.class::cast), bodies);
        WriteSet touched = frame.isPresent()
                ? WriteSet.ofFrame(overlay.settings().map(Setting::key).toList())
                : WriteSet.EMPTY;
        for (String key : bodies.keySet()) touched = touched.and(WriteSet.ofSetting(key));
        return touched;
    }

    private WriteSet restored(EntityType<?> type, WrittenEntity part) {
        WriteSet touched = type.footprint(part.key(), Optional.empty(), overlay);
        if (part.body().isEmpty()) overlay.remove(type, part.key());
        else overlay.add(type, part.key(), part.body());
        return touched;
    }

    private WriteSet restoredPolicy(WrittenEntity part) {
        Set<String> settings = new HashSet<>(settingsOf(part.key()));
        overlay.restorePolicy(part.key(), Optional.of(part.body()).filter(body -> !body.isEmpty()));
        settings.addAll(settingsOf(part.key()));
        return WriteSet.ofPolicy(part.key(), settings);
    }

    private List<String> settingsOf(String policy) {
        return overlay.hasPolicy(policy) ? overlay.policy(policy).settings() : List.of();
    }

    /**
     * Puts a ranking in place; what it touches are the policies that stand in another order than before, among those that stood before.
     *
     * @param restored ids of policies among which are all that were not there
     */
    private WriteSet ranked(JsonNode ranking, Set<String> restored) {
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
        WriteSet touched = WriteSet.EMPTY;
        for (int i = 0; i < both.size(); i++)
            if (!both.get(i).equals(was.get(i)))
                touched = touched.and(WriteSet.ofPolicy(both.get(i), settingsOf(both.get(i))));
        return touched;
    }

    /** The estate that the edits started from. */
    public CompiledEstate base() {
        return overlay.base();
    }

    /** What the edits touch. */
    public WriteSet writeSet() {
        return overlay.writeSet();
    }

    /** The estate while it is edited, to be asked. */
    public Overlay overlay() {
        return overlay;
    }

    /**
     * The estate as the edits left it. Costs what was edited since it was asked for last, and a copy of each list in which
     * something was.
     */
    public synchronized CompiledEstate compile() {
        if (since.isEmpty()) return reached;
        if (since.touchesParts()) {
            Estate edited = edited(reached.estate(), since);
            reached = since.touchesDirectory()
                    ? reached.withDirectory(
                            edited, reached.directory().with(edited, since.accounts(), since.tree(), since.groups()))
                    : reached.withEstate(edited);
        }
        if (!since.policies().isEmpty()) reached = reached.withPolicies(policies(), overlay.ranking());
        since = WriteSet.EMPTY;
        return reached;
    }

    /** An estate with the entities of the working copy put in place of those that the edits touch. */
    private Estate edited(Estate estate, WriteSet touched) {
        return estate.with(new Estate.EstateDelta(
                overlay.compiled(EntityType.UNIT, touched.units()),
                overlay.compiled(EntityType.ACCOUNT, touched.accounts()),
                overlay.compiled(EntityType.GROUP, touched.groups()),
                overlay.compiled(EntityType.WORKSPACE, touched.workspaces()),
                overlay.compiled(EntityType.HOSTING, touched.hostings()),
                overlay.compiled(EntityType.PLAN, touched.plans()),
                overlay.compiled(EntityType.SETTING, touched.catalogue()),
                overlay.compiled(EntityType.RELEASE, touched.releases()),
                overlay.compiled(EntityType.FEEDBACK, touched.feedback()),
                overlay.editedFrame(),
                overlay.editedRings(),
                overlay.editedTracks()));
    }

    /**
     * This session on a later estate that differs from the base in its policies alone. It is empty unless the edits touch units, accounts and
     * groups only and remove none, for then nothing that they were checked against is different, and they are not read again. Costs the
     * entities that the edits touch.
     */
    public synchronized Optional<EditSession> onOtherPolicies(CompiledEstate later) {
        boolean same = later.directory() == base().directory()
                && overlay.writeSet().touchesDirectoryAlone()
                && overlay.removesNothing()
                && overlay.keepsPurposes();
        if (!same) return Optional.empty();
        CompiledEstate edited = compile();
        WriteSet touched = overlay.writeSet();
        return Optional.of(new EditSession(
                overlay.onBase(later), later.withDirectory(edited(later.estate(), touched), edited.directory())));
    }

    /** Whether the entities that another session writes are the very same. */
    public boolean writesTheSameAs(EditSession other) {
        return overlay.sharesEntitiesWith(other.overlay);
    }

    /** The policies as they are now, those that nobody edited shared. */
    private List<Policy> policies() {
        Map<String, PolicyDelta> edited = overlay.editedPolicies();
        List<Policy> policies = new ArrayList<>();
        for (String id : overlay.ranking())
            policies.add(
                    edited.containsKey(id)
                            ? edited.get(id).compiled()
                            : base().estate().policy(id).orElseThrow());
        return policies;
    }

    /** A part that is to be written. */
    public record WrittenEntity(String section, String key, ObjectNode body) {}

    /** The parts that were added or changed and are still there. Asks for the stored bodies of those that were changed. */
    public List<WrittenEntity> written() {
        List<WrittenEntity> written = new ArrayList<>();
        for (EntityType<?> type : EntityType.ALL) {
            Map<String, ObjectNode> bodies = overlay.wholeBodies(type, overlay.writtenParts(type));
            for (String id : new TreeSet<>(bodies.keySet()))
                written.add(new WrittenEntity(type.section().member(), id, Objects.requireNonNull(bodies.get(id))));
        }
        Map<String, PolicyDelta> policies = overlay.editedPolicies();
        for (String id : new TreeSet<>(policies.keySet()))
            written.add(new WrittenEntity(
                    Section.POLICIES.member(),
                    id,
                    Objects.requireNonNull(policies.get(id)).body()));
        return written;
    }

    /** The parts that the estate had and that are no more; their bodies are empty. */
    public List<WrittenEntity> removed() {
        List<WrittenEntity> removed = new ArrayList<>();
        ObjectNode none = Json.NODES.objectNode();
        for (EntityType<?> type : EntityType.ALL)
            for (String id : overlay.removedParts(type))
                removed.add(new WrittenEntity(type.section().member(), id, none));
        for (String id : writeSet().policies())
            if (!overlay.hasPolicy(id) && base().estate().policy(id).isPresent())
                removed.add(new WrittenEntity(Section.POLICIES.member(), id, none));
        return removed;
    }

    /** The whole ranking, where it was changed; ids of policies, the strongest first. */
    public Optional<ArrayNode> writtenRanking() {
        if (!overlay.isRankingChanged()) return Optional.empty();
        ArrayNode ranking = Json.NODES.arrayNode();
        overlay.ranking().forEach(ranking::add);
        return Optional.of(ranking);
    }

    /** The catalogue without its settings, where that was edited, as the estate file writes it. */
    public Optional<ObjectNode> writtenFrame() {
        return overlay.editedFrame().map(frame -> frame.source().deepCopy().set("settings", Json.NODES.arrayNode()));
    }

    /** All rings, where they were edited, as the estate file writes them. */
    public Optional<ArrayNode> writtenRings() {
        return overlay.editedRings().map(rings -> {
            ArrayNode written = Json.NODES.arrayNode();
            rings.forEach(ring -> written.add(ring.source()));
            return written;
        });
    }

    /** The further tracks as the estate file writes them, where they were edited. */
    public Optional<ArrayNode> writtenTracks() {
        return overlay.editedTracks().map(tracks -> {
            ArrayNode written = Json.NODES.arrayNode();
            tracks.forEach(track -> written.add(track.json()));
            return written;
        });
    }

    /** What names a unit, account, group, workspace or hosting. */
    public List<Reference> uses(Section section, String id) {
        return EntityType.of(section).map(type -> overlay.uses(type, id)).orElse(List.of());
    }
}
