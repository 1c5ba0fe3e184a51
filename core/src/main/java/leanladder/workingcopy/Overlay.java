package leanladder.workingcopy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import leanladder.catalogue.Catalogue;
import leanladder.catalogue.CatalogueFrame;
import leanladder.catalogue.CatalogueReader;
import leanladder.catalogue.Need;
import leanladder.catalogue.RingSettings;
import leanladder.catalogue.Setting;
import leanladder.catalogue.ValueType;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Consent;
import leanladder.estate.Group;
import leanladder.estate.Hosting;
import leanladder.estate.Members;
import leanladder.estate.Plan;
import leanladder.estate.Policy;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Statement;
import leanladder.estate.Target;
import leanladder.estate.Track;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.estate.read.PolicyReader;
import leanladder.estate.read.References;
import leanladder.estate.read.Section;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import org.pcollections.HashTreePMap;
import org.pcollections.PMap;
import org.pcollections.TreePVector;

/**
 * The working copy of an estate: the edits so far, on top of an estate that does not change. Edits are checked against it and applied to it. A copy
 * shares everything and costs nothing, so that edits can be tried on a copy. Not thread-safe; the objects that it returns are.
 */
public final class Overlay implements References {
    /** The member of a choice that lists its options. */
    static final String OPTIONS = "options";

    private final CompiledEstate base;
    private final EntityStore stored;
    private final ReferenceIndex referenceIndex;
    private final PolicyReader reader;
    private PMap<String, Optional<PolicyDelta>> policies = HashTreePMap.empty();
    private TreePVector<String> ranking;
    private boolean rankingChanged;
    private Optional<CatalogueFrame> frame = Optional.empty();
    private Optional<List<Ring>> rings = Optional.empty();
    private Optional<List<Track>> tracks = Optional.empty();
    private Map<EntityType<?>, PMap<String, EntityDelta<?>>> parts = Map.of();
    private WriteSet writeSet = WriteSet.EMPTY;
    private List<Mutation> mutations = new ArrayList<>();

    /**
     * Opens an estate. Linear in its policies.
     *
     * @param stored finds the stored parts of its directory
     */
    public Overlay(CompiledEstate base, EntityStore stored) {
        this(
                base,
                stored,
                new ReferenceIndex(base),
                TreePVector.from(
                        base.estate().policies().stream().map(Policy::id).toList()));
    }

    private Overlay(
            CompiledEstate base, EntityStore stored, ReferenceIndex referenceIndex, TreePVector<String> ranking) {
        this.base = base;
        this.stored = stored;
        this.referenceIndex = referenceIndex;
        this.ranking = ranking;
        this.reader = new PolicyReader(this::setting, this);
    }

    /** The same, to try edits on. */
    public Overlay copy() {
        Overlay copy = new Overlay(base, stored, referenceIndex, ranking);
        copy.replaceWith(this);
        return copy;
    }

    /** The same edits on another estate, of which everything that they were checked against is the same; its policies may differ. */
    public Overlay onBase(CompiledEstate other) {
        Overlay moved = new Overlay(other, stored);
        moved.frame = frame;
        moved.rings = rings;
        moved.tracks = tracks;
        moved.parts = parts;
        moved.writeSet = writeSet;
        return moved;
    }

    /** Whether no entity of the base was removed, nor a policy edited. */
    public boolean removesNothing() {
        return policies.isEmpty()
                && !rankingChanged
                && EntityType.ALL.stream().allMatch(type -> removedParts(type).isEmpty());
    }

    /** Whether every group that was edited has the purpose that it had: policies can target access groups only. */
    public boolean keepsPurposes() {
        return writtenParts(EntityType.GROUP).stream()
                .allMatch(id -> base.estate()
                        .group(id)
                        .map(was -> isAccessGroup(id).equals(Optional.of(was.access())))
                        .orElse(true));
    }

    /** Whether both hold the very same edited entities, and no edited policy. */
    public boolean sharesEntitiesWith(Overlay other) {
        return parts == other.parts && policies.isEmpty() && other.policies.isEmpty() && !rankingChanged;
    }

    /** Takes over what another one, made from this by copying, has come to. */
    public void replaceWith(Overlay other) {
        policies = other.policies;
        ranking = other.ranking;
        rankingChanged = other.rankingChanged;
        frame = other.frame;
        rings = other.rings;
        tracks = other.tracks;
        parts = other.parts;
        writeSet = other.writeSet;
    }

    /** The estate before all edits. */
    public CompiledEstate base() {
        return base;
    }

    /** Reads policies, statements and assignments against what there is now. */
    public PolicyReader reader() {
        return reader;
    }

    /** What all edits so far touched. */
    public WriteSet writeSet() {
        return writeSet;
    }

    /** Notes what is touched beside the edits. */
    public void touch(WriteSet more) {
        writeSet = writeSet.and(more);
    }

    /** The mutations since this was asked last, or since the copy was made, in their order. */
    public List<Mutation> takeMutations() {
        List<Mutation> taken = mutations;
        mutations = new ArrayList<>();
        return taken;
    }

    /** Counts mutations of a copy as its own, once it has taken over what they came to. */
    public void record(List<Mutation> taken) {
        mutations.addAll(taken);
    }

    private void record(Mutation mutation) {
        mutations.add(mutation);
        touch(mutation.touched());
    }

    /** A copy of an object with members set; null takes a member away. */
    public static ObjectNode amended(ObjectNode body, ObjectNode members) {
        ObjectNode amended = Json.NODES.objectNode();
        amended.setAll(body);
        members.properties().forEach(m -> {
            if (m.getValue().isNull()) amended.remove(m.getKey());
            else amended.set(m.getKey(), m.getValue());
        });
        return amended;
    }

    // ---- policies ----

    /** Whether there is a policy of this id now. */
    public boolean hasPolicy(String id) {
        Optional<PolicyDelta> edited = policies.get(id);
        return edited != null ? edited.isPresent() : base.estate().policy(id).isPresent();
    }

    /** A policy that there is now. */
    public PolicyDelta policy(String id) {
        Optional<PolicyDelta> edited = policies.get(id);
        return edited != null
                ? edited.orElseThrow()
                : PolicyDelta.from(base.estate().policy(id).orElseThrow());
    }

    /** What a policy is called now; empty when there is none of this id. */
    public String policyName(String id) {
        Optional<PolicyDelta> edited = policies.get(id);
        if (edited != null) return edited.map(PolicyDelta::name).orElse("");
        return base.estate().policy(id).map(Policy::name).orElse("");
    }

    /** All policies, the strongest first; their ids. */
    public List<String> ranking() {
        return ranking;
    }

    private void put(String id, PolicyDelta policy) {
        policies = policies.plus(id, Optional.of(policy));
    }

    private WriteSet touched(String id) {
        return WriteSet.ofPolicy(id, policy(id).settings());
    }

    /** Adds a policy at a place of the ranking, from 0 to the number of policies. */
    public void addPolicy(String id, PolicyDelta policy, int place) {
        put(id, policy);
        ranking = ranking.plus(place, id);
        rankingChanged = true;
        record(new Mutation.PolicyAdded(id, touched(id)));
    }

    /** Takes a policy away. */
    public void removePolicy(String id) {
        int at = ranking.indexOf(id);
        record(new Mutation.PolicyRemoved(
                id,
                policy(id),
                at > 0 ? Optional.of(ranking.get(at - 1)) : Optional.empty(),
                at + 1 < ranking.size() ? Optional.of(ranking.get(at + 1)) : Optional.empty(),
                touched(id)));
        policies = policies.plus(id, Optional.empty());
        ranking = ranking.minus(id);
        rankingChanged = true;
    }

    /** Moves a policy directly above another, or to the end. */
    public void rankPolicy(String id, Optional<String> above) {
        int at = ranking.indexOf(id);
        record(new Mutation.PolicyRanked(
                id, at + 1 < ranking.size() ? Optional.of(ranking.get(at + 1)) : Optional.empty(), touched(id)));
        ranking = ranking.minus(id);
        ranking = ranking.plus(above.map(ranking::indexOf).orElse(ranking.size()), id);
        rankingChanged = true;
    }

    /** Sets members of a policy beside its statements and assignments; null takes a member away. Only the state decides anything. */
    public void amendPolicy(String id, ObjectNode members) {
        PolicyDelta was = policy(id);
        record(new Mutation.PolicyAmended(
                id, members, was.rest(), members.has("state") ? touched(id) : WriteSet.ofPolicy(id, List.of())));
        put(id, was.changed(members));
    }

    /** Puts a statement in place of the one that the policy had on the setting in the same way. */
    public void putStatement(String id, Statement statement, ObjectNode json) {
        recordStatement(id, statement.setting(), statement instanceof Statement.Cap);
        put(id, policy(id).with(statement, json));
    }

    /** Removes the statement that a policy has on a setting in one way. */
    public void removeStatement(String id, String setting, boolean cap) {
        recordStatement(id, setting, cap);
        put(id, policy(id).without(setting, cap));
    }

    private void recordStatement(String id, String setting, boolean cap) {
        record(new Mutation.StatementWritten(
                id, setting, cap, policy(id).statement(setting, cap), WriteSet.ofPolicy(id, List.of(setting))));
    }

    /** Adds an assignment to a policy; one that is there already stays. */
    public void putAssignment(String id, Assignment assignment, ObjectNode json) {
        PolicyDelta was = policy(id);
        if (was.assignment(assignment).isPresent()) touch(touched(id));
        else record(new Mutation.AssignmentAdded(id, json, touched(id)));
        put(id, was.with(assignment, json));
    }

    /** Removes an assignment that a policy has. */
    public void removeAssignment(String id, Assignment assignment) {
        PolicyDelta was = policy(id);
        record(new Mutation.AssignmentRemoved(id, was.assignment(assignment).orElseThrow(), touched(id)));
        put(id, was.without(assignment));
    }

    /** Puts a policy in place as it stood once, its place in the ranking aside; empty where there was none. */
    public void restorePolicy(String id, Optional<ObjectNode> body) {
        policies = policies.plus(
                id,
                body.map(b -> PolicyDelta.from(
                        reader.policy(new JsonCursor(b, "", new Defects())).orElseThrow())));
    }

    /** Puts all policies into the order in which they stood once. */
    public void restoreRanking(List<String> ids) {
        ranking = TreePVector.from(ids);
        rankingChanged = true;
    }

    /** Whether the ranking is not the one of the estate before. */
    public boolean isRankingChanged() {
        return rankingChanged;
    }

    /** The policies that were edited and are there. */
    public Map<String, PolicyDelta> editedPolicies() {
        Map<String, PolicyDelta> edited = new HashMap<>();
        policies.forEach((id, policy) -> policy.ifPresent(p -> edited.put(id, p)));
        return edited;
    }

    // ---- units, accounts, groups, workspaces and plans ----

    @SuppressWarnings("unchecked")
    private <T> Optional<EntityDelta<T>> edited(EntityType<T> type, String id) {
        return Optional.ofNullable(
                (EntityDelta<T>) parts.getOrDefault(type, HashTreePMap.empty()).get(id));
    }

    private <T> void edit(EntityType<T> type, String id, EntityDelta<T> part) {
        Map<EntityType<?>, PMap<String, EntityDelta<?>>> all = new HashMap<>(parts);
        all.put(type, all.getOrDefault(type, HashTreePMap.empty()).plus(id, part));
        parts = all;
    }

    /** A part as it stands now; a group comes with the members it had before all edits, see {@link #members}. */
    public <T> Optional<T> part(EntityType<T> type, String id) {
        Optional<EntityDelta<T>> edited = edited(type, id);
        return edited.isPresent() ? edited.get().part() : type.find(base.estate(), id);
    }

    /** What a part is called now; the id where there is none. */
    public <T> String name(EntityType<T> type, String id) {
        // A release has no name but that of its setting.
        return type == EntityType.RELEASE
                ? ReleaseEntityType.title(id, this)
                : part(type, id).map(type::name).orElse(id);
    }

    /** The name of a unit with that of the one above it, for units of one name are many. */
    public String placeName(String id) {
        Optional<Unit> parent = part(EntityType.UNIT, id).flatMap(Unit::parent).flatMap(p -> part(EntityType.UNIT, p));
        return parent.filter(p -> p.parent().isPresent())
                        .map(p -> p.name() + " › ")
                        .orElse("")
                + name(EntityType.UNIT, id);
    }

    /** Whom a target names now. */
    public String name(Target target) {
        if (target instanceof Target.UnitTarget unit) return name(EntityType.UNIT, unit.id());
        if (target instanceof Target.GroupTarget group) return name(EntityType.GROUP, group.id());
        if (target instanceof Target.AccountTarget account) return name(EntityType.ACCOUNT, account.id());
        if (target instanceof Target.WorkspaceTarget workspace) return name(EntityType.WORKSPACE, workspace.id());
        if (target instanceof Target.HostingTarget hosting) return name(EntityType.HOSTING, hosting.id());
        return base.estate().organisation().name();
    }

    /** What an entitlement is called. */
    public String component(String entitlement) {
        return frame().entitlements().getOrDefault(entitlement, entitlement);
    }

    /** The members of a group as they are now; empty when there is no such group. */
    public Optional<MembershipDelta> members(String group) {
        Optional<EntityDelta<Group>> edited = edited(EntityType.GROUP, group);
        if (edited.isPresent() && edited.get().part().isEmpty()) return Optional.empty();
        return edited.flatMap(EntityDelta::members)
                .or(() -> base.estate()
                        .group(group)
                        .map(g -> MembershipDelta.from(
                                g.members(), account -> base.directory().isListedIn(group, account))));
    }

    /** Adds a part, given as the estate file writes it and found to fit. */
    public <T> void add(EntityType<T> type, String id, ObjectNode body) {
        record(new Mutation.EntityAdded(type, id, type.footprint(id, Optional.empty(), this)));
        T part = type.read(new JsonCursor(body, "", new Defects()), this).orElseThrow();
        Optional<MembershipDelta> members =
                part instanceof Group group ? Optional.of(MembershipDelta.from(group.members())) : Optional.empty();
        edit(type, id, new EntityDelta<>(Optional.of(part), Optional.of(body), HashTreePMap.empty(), members));
    }

    /** Sets members of a part; null takes a member away. */
    public <T> void amend(EntityType<T> type, String id, ObjectNode members) {
        record(new Mutation.EntityAmended(
                type, id, members, laterBody(type, id), type.footprint(id, Optional.of(members), this)));
        write(type, id, members);
    }

    private <T> void write(EntityType<T> type, String id, ObjectNode members) {
        ObjectNode amended = amended(type.shortBody(part(type, id).orElseThrow()), members);
        T part = type.read(new JsonCursor(amended, "", new Defects()), this).orElseThrow();
        EntityDelta<T> was = started(type, id);
        PMap<String, JsonNode> all = was.amended();
        for (var member : members.properties()) all = all.plus(member.getKey(), member.getValue());
        edit(type, id, new EntityDelta<>(Optional.of(part), was.fresh(), all, was.members()));
    }

    /** Takes a part away. */
    public <T> void remove(EntityType<T> type, String id) {
        record(new Mutation.EntityRemoved(type, id, laterBody(type, id), type.footprint(id, Optional.empty(), this)));
        edit(type, id, EntityDelta.gone());
    }

    /** Puts members into a group; those that are in it already stay. */
    public void putMembers(String group, Members who) {
        MembershipDelta present = members(group).orElseThrow();
        Members fresh = present.absentOf(who);
        record(new Mutation.MembersAdded(group, fresh, WriteSet.ofGroup(group)));
        setMembers(group, present.with(fresh));
    }

    /** Takes members out of a group. */
    public void removeMembers(String group, Members who) {
        record(new Mutation.MembersRemoved(group, who, WriteSet.ofGroup(group)));
        setMembers(group, members(group).orElseThrow().without(who));
    }

    /**
     * Sets the invitations of an account to previews.
     *
     * @param to the member that names the preview, {@code ring} or {@code release}
     * @param was the invitation to it that waited for an answer
     */
    public void setInvitations(
            String account, ArrayNode invitations, String to, String what, Optional<ObjectNode> was) {
        record(new Mutation.InvitationWritten(account, to, what, was, WriteSet.ofAccount(account)));
        write(EntityType.ACCOUNT, account, Json.NODES.objectNode().set(AccountEntityType.ASKED, invitations));
    }

    private void setMembers(String group, MembershipDelta members) {
        EntityDelta<Group> was = started(EntityType.GROUP, group);
        edit(EntityType.GROUP, group, new EntityDelta<>(was.part(), was.fresh(), was.amended(), Optional.of(members)));
    }

    private <T> EntityDelta<T> started(EntityType<T> type, String id) {
        return edited(type, id)
                .orElseGet(() ->
                        new EntityDelta<>(part(type, id), Optional.empty(), HashTreePMap.empty(), Optional.empty()));
    }

    /** Parts of a type among these as the model has them now, a group with its members; empty for those that are no more. */
    public <T> Map<String, Optional<T>> compiled(EntityType<T> type, Set<String> ids) {
        Map<String, Optional<T>> compiled = new HashMap<>();
        for (String id : ids) compiled.put(id, part(type, id).map(part -> withMembers(type, id, part)));
        return compiled;
    }

    private <T> T withMembers(EntityType<T> type, String id, T part) {
        if (!(part instanceof Group group)) return part;
        Members all = members(id).orElseThrow().all();
        @SuppressWarnings("unchecked")
        T whole = (T) new Group(id, group.name(), group.access(), group.owners(), all, group.rule());
        return whole;
    }

    /** Ids of parts of a type that were edited and are there. */
    public Set<String> writtenParts(EntityType<?> type) {
        return parts.getOrDefault(type, HashTreePMap.empty()).entrySet().stream()
                .filter(e -> e.getValue().part().isPresent())
                .map(Map.Entry::getKey)
                .collect(Collectors.toSet());
    }

    /** Ids of parts of a type that the estate had and that are no more. */
    public Set<String> removedParts(EntityType<?> type) {
        return parts.getOrDefault(type, HashTreePMap.empty()).entrySet().stream()
                .filter(e -> e.getValue().part().isEmpty())
                .map(Map.Entry::getKey)
                .filter(id -> type.find(base.estate(), id).isPresent())
                .collect(Collectors.toSet());
    }

    /** Says which parts of the estate are going to be asked for one by one, see {@link EntityStore#expect}. */
    public void expect(EntityType<?> type, List<String> ids) {
        stored.expect(type.section(), ids);
    }

    /** A part that is there, as the estate file writes it now. Asks for the stored body of one that is not new. */
    public ObjectNode wholeBody(EntityType<?> type, String id) {
        return laterBody(type, id).get();
    }

    /** The same, put together when it is asked for. */
    private Supplier<ObjectNode> laterBody(EntityType<?> type, String id) {
        Optional<EntityDelta<?>> edited = Optional.ofNullable(
                parts.getOrDefault(type, HashTreePMap.empty()).get(id));
        return () -> wholeBody(type, id, edited);
    }

    private ObjectNode wholeBody(EntityType<?> type, String id, Optional<EntityDelta<?>> edited) {
        if (edited.flatMap(EntityDelta::fresh).isPresent()) return edited.get().body(Json.NODES.objectNode());
        ObjectNode before = stored.body(type.section(), id);
        return edited.map(e -> e.body(before)).orElse(before);
    }

    /** The same for many. */
    public Map<String, ObjectNode> wholeBodies(EntityType<?> type, Set<String> ids) {
        Set<String> old = ids.stream()
                .filter(id -> edited(type, id).flatMap(EntityDelta::fresh).isEmpty())
                .collect(Collectors.toSet());
        Map<String, ObjectNode> before = stored.bodies(type.section(), old);
        Map<String, ObjectNode> bodies = new HashMap<>();
        for (String id : ids) {
            // Of a new one nothing is stored.
            ObjectNode was = before.getOrDefault(id, Json.NODES.objectNode());
            bodies.put(id, edited(type, id).map(e -> e.body(was)).orElse(was));
        }
        return bodies;
    }

    /** Checks that what a group shall hold exists, and that nesting it closes no cycle. */
    public void checkMembers(String group, List<JsonCursor> items) {
        GroupEntityType.checkMembers(group, items, this);
    }

    /** The ids of the groups that list a group now. Linear in the groups that list it and those that were edited. */
    Set<String> groupsAround(String group) {
        Set<String> around = new HashSet<>(writtenParts(EntityType.GROUP));
        around.addAll(base.directory().groupsAround(group));
        around.removeIf(outer -> members(outer).filter(m -> m.hasGroup(group)).isEmpty());
        return around;
    }

    /** The ids of the units directly below a unit now. Linear in these and in the units that were edited. */
    Set<String> unitsBelow(String unit) {
        Set<String> below = new HashSet<>(writtenParts(EntityType.UNIT));
        if (base.estate().unit(unit).isPresent())
            base.directory().tree().children(unit).forEach(child -> below.add(child.id()));
        below.removeIf(
                child -> !part(EntityType.UNIT, child).flatMap(Unit::parent).equals(Optional.of(unit)));
        return below;
    }

    // ---- what names what ----

    /** What names a part now. */
    public List<Reference> uses(EntityType<?> type, String id) {
        String text = type.noun() + ":" + id;
        Optional<Target> named = Target.parse(text);
        if (named.isEmpty()) return List.of();
        Target target = named.get();
        List<Reference> uses = new ArrayList<>();
        for (Reference reference : referenceIndex.of(text)) if (isStillSo(reference, type, id)) uses.add(reference);
        Set<String> told = uses.stream().map(u -> u.by() + " " + u.id()).collect(Collectors.toCollection(HashSet::new));
        editedPolicies().forEach((policy, edited) -> {
            if (edited.names(target) && told.add(Reference.Referrer.POLICY + " " + policy))
                uses.add(new Reference(Reference.Referrer.POLICY, policy, edited.name()));
        });
        if (type == EntityType.UNIT) {
            for (String child : writtenParts(EntityType.UNIT))
                if (part(EntityType.UNIT, child).flatMap(Unit::parent).equals(Optional.of(id))
                        && told.add(Reference.Referrer.UNIT + " " + child))
                    uses.add(new Reference(Reference.Referrer.UNIT, child, name(EntityType.UNIT, child)));
            for (String account : writtenParts(EntityType.ACCOUNT))
                if (part(EntityType.ACCOUNT, account).orElseThrow().unit().equals(id)
                        && told.add(Reference.Referrer.ACCOUNT + " " + account))
                    uses.add(new Reference(Reference.Referrer.ACCOUNT, account, name(EntityType.ACCOUNT, account)));
        }
        for (String plan : writtenParts(EntityType.PLAN)) {
            Plan edited = part(EntityType.PLAN, plan).orElseThrow();
            if (names(edited, target) && told.add(Reference.Referrer.PLAN + " " + plan))
                uses.add(new Reference(Reference.Referrer.PLAN, plan, edited.name()));
        }
        for (String setting : writtenParts(EntityType.RELEASE))
            if (names(part(EntityType.RELEASE, setting).orElseThrow(), target)
                    && told.add(Reference.Referrer.RELEASE + " " + setting))
                uses.add(new Reference(Reference.Referrer.RELEASE, setting, ReleaseEntityType.title(setting, this)));
        for (String workspace : writtenParts(EntityType.WORKSPACE)) {
            Workspace edited = part(EntityType.WORKSPACE, workspace).orElseThrow();
            if (names(edited, text) && told.add(Reference.Referrer.WORKSPACE + " " + workspace))
                uses.add(new Reference(Reference.Referrer.WORKSPACE, workspace, edited.name()));
        }
        for (String hosting : writtenParts(EntityType.HOSTING)) {
            Hosting edited = part(EntityType.HOSTING, hosting).orElseThrow();
            if (isKeptBy(edited, text) && told.add(Reference.Referrer.HOSTING + " " + hosting))
                uses.add(new Reference(Reference.Referrer.HOSTING, hosting, edited.name()));
        }
        for (String key : writtenParts(EntityType.SETTING)) {
            Setting edited = setting(key).orElseThrow();
            if (isNamedBy(edited, text) && told.add(Reference.Referrer.SETTING + " " + key))
                uses.add(new Reference(Reference.Referrer.SETTING, key, edited.title()));
        }
        for (String group : writtenParts(EntityType.GROUP))
            if (holds(group, type, id) && told.add(Reference.Referrer.GROUP + " " + group))
                uses.add(new Reference(Reference.Referrer.GROUP, group, name(EntityType.GROUP, group)));
        return uses;
    }

    private static boolean isKeptBy(Hosting hosting, String text) {
        return hosting.keepers().stream().anyMatch(k -> text.equals("account:" + k));
    }

    private static boolean isNamedBy(Setting setting, String text) {
        return setting.type() instanceof ValueType.PeopleType
                && ReferenceIndex.people(setting).anyMatch(text::equals);
    }

    private static boolean names(Plan plan, Target target) {
        return plan.assignments().stream().anyMatch(a -> a.target().equals(target));
    }

    private static boolean names(Release release, Target target) {
        return release.early().stream().anyMatch(e -> e.to().equals(target));
    }

    private static boolean names(Workspace workspace, String text) {
        return workspace.members().texts().anyMatch(text::equals)
                || workspace.stewards().stream().anyMatch(s -> text.equals("account:" + s))
                || workspace.hosting().filter(h -> text.equals("hosting:" + h)).isPresent();
    }

    private boolean holds(String group, EntityType<?> type, String id) {
        boolean byRule = part(EntityType.GROUP, group).flatMap(Group::rule).stream()
                .flatMap(ReferenceIndex::named)
                .anyMatch(target -> target.equals(type.noun() + ":" + id));
        if (byRule) return true;
        if (type == EntityType.GROUP)
            return members(group).filter(m -> m.hasGroup(id)).isPresent();
        if (type != EntityType.ACCOUNT) return false;
        return members(group).filter(m -> m.hasAccount(id)).isPresent()
                || part(EntityType.GROUP, group)
                        .filter(g -> g.owners().contains(id))
                        .isPresent();
    }

    private boolean isStillSo(Reference reference, EntityType<?> type, String id) {
        return switch (reference.by()) {
            case POLICY -> {
                Optional<PolicyDelta> edited = policies.get(reference.id());
                yield edited == null
                        || edited.filter(p -> p.names(
                                        Target.parse(type.noun() + ":" + id).orElseThrow()))
                                .isPresent();
            }
            case PLAN ->
                part(EntityType.PLAN, reference.id())
                        .filter(p ->
                                names(p, Target.parse(type.noun() + ":" + id).orElseThrow()))
                        .isPresent();
            case RELEASE ->
                part(EntityType.RELEASE, reference.id())
                        .filter(r ->
                                names(r, Target.parse(type.noun() + ":" + id).orElseThrow()))
                        .isPresent();
            case WORKSPACE ->
                part(EntityType.WORKSPACE, reference.id())
                        .filter(w -> names(w, type.noun() + ":" + id))
                        .isPresent();
            case GROUP -> edited(EntityType.GROUP, reference.id()).isEmpty() || holds(reference.id(), type, id);
            case HOSTING ->
                part(EntityType.HOSTING, reference.id())
                        .filter(h -> isKeptBy(h, type.noun() + ":" + id))
                        .isPresent();
            case SETTING ->
                setting(reference.id())
                        .filter(s -> isNamedBy(s, type.noun() + ":" + id))
                        .isPresent();
            case UNIT ->
                part(EntityType.UNIT, reference.id()).flatMap(Unit::parent).equals(Optional.of(id));
            case ACCOUNT ->
                part(EntityType.ACCOUNT, reference.id()).map(Account::unit).equals(Optional.of(id));
        };
    }

    // ---- references ----

    @Override
    public boolean hasUnit(String id) {
        return part(EntityType.UNIT, id).isPresent();
    }

    @Override
    public boolean hasAccount(String id) {
        return part(EntityType.ACCOUNT, id).isPresent();
    }

    @Override
    public Optional<Boolean> isAccessGroup(String id) {
        return part(EntityType.GROUP, id).map(Group::access);
    }

    @Override
    public boolean hasSetting(String key) {
        return setting(key).isPresent();
    }

    @Override
    public boolean hasWorkspace(String id) {
        return part(EntityType.WORKSPACE, id).isPresent();
    }

    @Override
    public boolean hasHosting(String id) {
        return part(EntityType.HOSTING, id).isPresent();
    }

    @Override
    public boolean hasPicture(String sha256) {
        return base.estate().pictures().contains(sha256) || stored.hasPicture(sha256);
    }

    @Override
    public boolean isRootUnit(String id) {
        return part(EntityType.UNIT, id).filter(u -> u.parent().isEmpty()).isPresent();
    }

    /** A setting of the catalogue. */
    public Optional<Setting> setting(String key) {
        return part(EntityType.SETTING, key);
    }

    /** All settings of the catalogue as they are now, in no order. */
    public Stream<Setting> settings() {
        PMap<String, EntityDelta<?>> edited = parts.getOrDefault(EntityType.SETTING, HashTreePMap.empty());
        return Stream.concat(
                base.estate().catalogue().settings().values().stream().filter(s -> !edited.containsKey(s.key())),
                edited.keySet().stream().map(this::setting).flatMap(Optional::stream));
    }

    /** The workspaces as they are now, in no order. */
    Stream<Workspace> workspaces() {
        return all(EntityType.WORKSPACE, base.estate().workspaces(), Workspace::id);
    }

    /** The hostings as they are now, in no order. */
    Stream<Hosting> hostings() {
        return all(EntityType.HOSTING, base.estate().hostings(), Hosting::id);
    }

    /** The licence plans as they are now, in no order. */
    Stream<Plan> plans() {
        return all(EntityType.PLAN, base.estate().plans(), Plan::id);
    }

    private <T> Stream<T> all(EntityType<T> type, List<T> before, Function<T, String> id) {
        PMap<String, EntityDelta<?>> edited = parts.getOrDefault(type, HashTreePMap.empty());
        return Stream.concat(
                before.stream().filter(part -> !edited.containsKey(id.apply(part))),
                edited.keySet().stream().map(key -> part(type, key)).flatMap(Optional::stream));
    }

    /** The catalogue without its settings, as it is now. */
    public CatalogueFrame frame() {
        return frame.orElse(base.estate().catalogue().frame());
    }

    /** The same, where it was edited. */
    public Optional<CatalogueFrame> editedFrame() {
        return frame;
    }

    /** What uses something that another frame of the catalogue would leave out; in words. */
    public List<String> misfits(CatalogueFrame other) {
        return Stream.of(
                        settings()
                                .filter(s -> !SettingEntityType.fits(s, other, this::setting, this))
                                .map(s -> "the setting " + s.title()),
                        plans().filter(p -> !other.entitlements().keySet().containsAll(p.components()))
                                .map(p -> "the plan " + p.name()),
                        workspaces()
                                .filter(w -> w.size()
                                        .filter(size -> !other.sizes().contains(size))
                                        .isPresent())
                                .map(w -> "the workspace " + w.name()),
                        hostings()
                                .filter(h -> !other.sizes().contains(h.size()))
                                .map(h -> "the hosting " + h.name()))
                .flatMap(Function.identity())
                .sorted()
                .toList();
    }

    /** Puts another frame in place of the catalogue's. @param members those that were set; null took one away */
    public void replaceFrame(CatalogueFrame other, ObjectNode members) {
        boolean resized = !frame().sizes().equals(other.sizes());
        List<String> hosted = settings()
                .filter(s -> resized && s.allNeeds().anyMatch(Need.Hosting.class::isInstance))
                .map(Setting::key)
                .toList();
        record(new Mutation.FrameAmended(members, frame().source(), WriteSet.ofFrame(hosted)));
        frame = Optional.of(other);
    }

    /**
     * Puts settings and the frame of the catalogue in place as they stood once. They are read together, since they name one another.
     *
     * @param other where it was another
     * @param bodies by key; empty for a setting that did not stand then
     * @throws IllegalStateException when together they are not a catalogue
     */
    public void restoreCatalogue(Optional<ObjectNode> other, Map<String, ObjectNode> bodies) {
        ObjectNode whole = Json.NODES.objectNode();
        whole.setAll(other.orElse(frame().source()));
        ArrayNode all = whole.putArray(Section.SETTINGS.member());
        settings().filter(s -> !bodies.containsKey(s.key())).forEach(s -> all.add(s.source()));
        bodies.values().stream().filter(body -> !body.isEmpty()).forEach(all::add);
        Defects defects = new Defects();
        Catalogue catalogue = new CatalogueReader(defects).read(new JsonCursor(whole, "", defects), ringSettings());
        if (!defects.isEmpty())
            throw new IllegalStateException("The catalogue of the past does not fit: " + defects.all());
        if (other.isPresent()) frame = Optional.of(catalogue.frame());
        bodies.forEach((key, body) -> edit(
                EntityType.SETTING,
                key,
                body.isEmpty()
                        ? EntityDelta.gone()
                        : new EntityDelta<>(
                                catalogue.setting(key), Optional.of(body), HashTreePMap.empty(), Optional.empty())));
    }

    /** A statement of a policy, with what the policy is called. */
    public record NamedStatement(String policy, String policyName, Statement statement, ObjectNode json) {}

    /** All statements on a setting now, in the ranking of their policies. Linear in the policies. */
    public List<NamedStatement> statementsOn(String setting) {
        List<NamedStatement> found = new ArrayList<>();
        for (String id : ranking)
            policy(id)
                    .statementsOn(setting)
                    .forEach((statement, json) -> found.add(new NamedStatement(id, policyName(id), statement, json)));
        return found;
    }

    /** Whether the setting of this key has a release. */
    public boolean hasRelease(String setting) {
        return part(EntityType.RELEASE, setting).isPresent();
    }

    /** How many accounts have given a consent to the release of this setting alone. Linear in the accounts that gave any. */
    public int consentsTo(String setting) {
        return consenting(account -> account.consents().stream().anyMatch(c -> c.isToRelease(setting)));
    }

    /**
     * Whether somebody has agreed to one of some versions of the terms of a ring or a release.
     *
     * @param to ring or release
     * @param from the first of the versions
     * @param until the last of them
     */
    boolean hasConsent(String to, String id, int from, int until) {
        Predicate<Consent> agreed =
                c -> c.to().member().equals(to) && c.id().equals(id) && c.terms() >= from && c.terms() <= until;
        return consenting(account -> account.consents().stream().anyMatch(agreed)) > 0;
    }

    private int consenting(Predicate<Account> so) {
        Set<String> edited = writtenParts(EntityType.ACCOUNT);
        Set<String> removed = removedParts(EntityType.ACCOUNT);
        int count = 0;
        for (int n : base.directory().consenting()) {
            Account account = base.directory().account(n);
            if (!edited.contains(account.id()) && !removed.contains(account.id()) && so.test(account)) count++;
        }
        for (String id : edited) if (so.test(part(EntityType.ACCOUNT, id).orElseThrow())) count++;
        return count;
    }

    /** Whether there is a preview ring of this id, on whatever track. */
    public boolean hasRing(String id) {
        return ring(id).isPresent();
    }

    /** The preview ring of this id, of whatever track. */
    public Optional<Ring> ring(String id) {
        return allTracks().stream()
                .flatMap(track -> track.rings().stream())
                .filter(r -> r.id().equals(id))
                .findFirst();
    }

    /** The preview rings as they are now, from the innermost outwards. */
    public List<Ring> rings() {
        return rings.orElse(base.estate().rings());
    }

    /** The further tracks as they are now. */
    public List<Track> tracks() {
        return tracks.orElse(base.estate().tracks());
    }

    /** The main track and the further ones. */
    public List<Track> allTracks() {
        return Track.all(rings(), tracks());
    }

    /** The track of this id, which is empty for the main one. */
    public Optional<Track> track(String id) {
        return allTracks().stream().filter(t -> t.id().equals(id)).findFirst();
    }

    /** The ring setting by which the release of a setting goes; that of the main track where there is no release. */
    String ringSettingOf(String setting) {
        return part(EntityType.RELEASE, setting)
                .flatMap(r -> track(r.track()))
                .map(Track::setting)
                .orElse(Setting.RING);
    }

    /** Which settings name rings, and by which of them releases go. Linear in the releases where there are further tracks. */
    public RingSettings ringSettings() {
        Map<String, List<String>> all = new HashMap<>();
        for (Track track : allTracks())
            all.put(track.setting(), track.rings().stream().map(Ring::id).toList());
        Map<String, String> byRelease = new HashMap<>();
        if (!tracks().isEmpty())
            releases()
                    .filter(r -> !r.track().isEmpty())
                    .forEach(r -> byRelease.put(r.setting(), ringSettingOf(r.setting())));
        return new RingSettings(all, byRelease);
    }

    /** The releases as they are now, in no order. */
    Stream<Release> releases() {
        return all(EntityType.RELEASE, List.copyOf(base.estate().releases()), Release::setting);
    }

    /** The further tracks, where they were edited. */
    public Optional<List<Track>> editedTracks() {
        return tracks;
    }

    /** Puts tracks in place of those there are; their ring settings offer the rings from then on. */
    public void replaceTracks(List<Track> arranged) {
        Set<String> settings = new HashSet<>();
        Stream.concat(tracks().stream(), arranged.stream()).forEach(t -> settings.add(t.setting()));
        WriteSet touched = WriteSet.ofRings(releases()
                .filter(r -> !r.track().isEmpty())
                .map(Release::setting)
                .toList());
        for (String key : settings) touched = touched.and(WriteSet.ofSetting(key));
        record(new Mutation.TracksReplaced(tracks(), List.copyOf(arranged), touched));
        tracks = Optional.of(List.copyOf(arranged));
        for (Track track : arranged) {
            ObjectNode members = Json.NODES.objectNode();
            ArrayNode options = members.putArray(OPTIONS);
            track.rings().forEach(ring -> options.add(ring.id()));
            write(EntityType.SETTING, track.setting(), members);
        }
    }

    /** Puts tracks in place as they stood once; their ring settings are parts of their own. */
    public void restoreTracks(List<Track> were) {
        tracks = Optional.of(List.copyOf(were));
    }

    /** The preview rings, where they were edited. */
    public Optional<List<Ring>> editedRings() {
        return rings;
    }

    /** Puts rings in place of those there are; the ring setting offers them from then on. */
    public void replaceRings(List<Ring> arranged) {
        WriteSet touched = WriteSet.ofRings(base.estate().releases().stream()
                .map(Release::setting)
                .filter(this::hasRelease)
                .toList());
        boolean followed = setting(Setting.RING).isPresent();
        record(new Mutation.RingsReplaced(
                rings(), List.copyOf(arranged), followed ? touched.and(WriteSet.ofSetting(Setting.RING)) : touched));
        rings = Optional.of(List.copyOf(arranged));
        ObjectNode members = Json.NODES.objectNode();
        arranged.forEach(ring -> members.withArray(OPTIONS).add(ring.id()));
        if (followed) write(EntityType.SETTING, Setting.RING, members);
    }

    /** Puts rings in place as they stood once; the ring setting is a part of its own. */
    public void restoreRings(List<Ring> were) {
        rings = Optional.of(List.copyOf(were));
    }

    /** In words what names a ring of the main track now: policies, releases, consents; empty where nothing does. Linear in those who consented. */
    public Optional<String> useOfRing(String id) {
        return useOfRing(allTracks().get(0), id);
    }

    /** The same for a ring of any track. */
    public Optional<String> useOfRing(Track track, String id) {
        for (String policy : ranking)
            if (policy(policy).setsTo(track.setting(), id)) return Optional.of("the policy " + policyName(policy));
        if (settings().anyMatch(s -> s.namesRing(track.setting(), id))) return Optional.of("the catalogue");
        Optional<Release> release = releases()
                .filter(r ->
                        r.opens().containsKey(id) || r.source().path("planned").has(id))
                .findFirst();
        if (release.isPresent())
            return Optional.of(
                    "the release of " + ReleaseEntityType.title(release.get().setting(), this));
        int consents = consenting(account -> account.consents().stream().anyMatch(c -> c.isToRing(id)));
        return consents == 0
                ? Optional.empty()
                : Optional.of(
                        consents == 1 ? "the consent of one account" : "the consents of " + consents + " accounts");
    }

    /** The title of a release that belongs to a track. */
    public Optional<String> releaseOnTrack(String track) {
        return releases()
                .filter(r -> r.track().equals(track))
                .findFirst()
                .map(r -> ReleaseEntityType.title(r.setting(), this));
    }
}
