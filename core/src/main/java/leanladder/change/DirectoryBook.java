package leanladder.change;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import leanladder.catalogue.Topology;
import leanladder.estate.Account;
import leanladder.estate.Defects;
import leanladder.estate.Group;
import leanladder.estate.Members;
import leanladder.estate.Parts;
import leanladder.estate.Place;
import leanladder.estate.References;
import leanladder.estate.Ring;
import leanladder.estate.Section;
import leanladder.estate.Target;
import leanladder.estate.Unit;
import leanladder.reach.Directory;
import leanladder.resolve.Ground;
import leanladder.text.Json;

/**
 * The units, accounts and groups while edits are read and carried out: an overlay over the estate that holds only what was
 * changed. Whatever does not fit is reported at its place and the edit is left out.
 *
 * <p>The forms of edits, by their member {@code kind}, for a unit; those for an {@code account} and a {@code group} are alike: {@code
 * add-unit} (unit), {@code amend-unit} (unit, members), {@code remove-unit} (unit). Groups have {@code put-members} and {@code
 * remove-members} (group, who) beside.
 */
final class DirectoryBook implements References {
    private static final Map<String, Section> SECTIONS =
            Map.of("unit", Section.UNITS, "account", Section.ACCOUNTS, "group", Section.GROUPS);
    private static final Map<Section, Set<String>> AMENDABLE = Map.of(
            Section.UNITS, Set.of("name", "parent"),
            Section.ACCOUNTS,
                    Set.of("userName", "displayName", "kind", "unit", "active", "started", "consents", "attributes"),
            Section.GROUPS, Set.of("name", "purpose", "owners"));
    private static final int NAMED = 3;

    private final Ground base;
    private final Bodies bodies;
    private final Map<String, Optional<Unit>> units = new LinkedHashMap<>();
    private final Map<String, Optional<Account>> accounts = new LinkedHashMap<>();
    private final Map<String, Optional<Group>> groups = new LinkedHashMap<>();
    private final Map<Section, Map<String, Writing>> writings = new EnumMap<>(Section.class);

    /** How a part is to be written: from a body of its own or the stored one, with alterations on top. */
    private record Writing(Optional<ObjectNode> fresh, List<Consumer<ObjectNode>> alterations) {
        Writing and(Consumer<ObjectNode> alteration) {
            var more = new ArrayList<>(alterations);
            more.add(alteration);
            return new Writing(fresh, more);
        }
    }

    DirectoryBook(Ground base, Bodies bodies) {
        this.base = base;
        this.bodies = bodies;
        for (Section section : SECTIONS.values()) writings.put(section, new LinkedHashMap<>());
    }

    /** The same book, to go back to. */
    DirectoryBook copy() {
        DirectoryBook copy = new DirectoryBook(base, bodies);
        copy.units.putAll(units);
        copy.accounts.putAll(accounts);
        copy.groups.putAll(groups);
        writings.forEach((section, written) -> copy.writings.get(section).putAll(written));
        return copy;
    }

    /** Whether an edit of this kind is one of the directory. */
    static boolean knows(String kind) {
        return kind.equals("put-members")
                || kind.equals("remove-members")
                || (kind.startsWith("add-") || kind.startsWith("amend-") || kind.startsWith("remove-"))
                        && SECTIONS.containsKey(kind.substring(kind.indexOf('-') + 1));
    }

    /** The member of an edit that names what it edits: unit, account or group. */
    static String noun(Section section) {
        return section.member().substring(0, section.member().length() - 1);
    }

    Optional<Unit> unit(String id) {
        return units.getOrDefault(id, base.estate().unit(id));
    }

    Optional<Account> account(String id) {
        return accounts.containsKey(id) ? accounts.get(id) : base.estate().account(id);
    }

    Optional<Group> group(String id) {
        return groups.getOrDefault(id, base.estate().group(id));
    }

    @Override
    public boolean hasUnit(String id) {
        return unit(id).isPresent();
    }

    @Override
    public boolean hasAccount(String id) {
        return account(id).isPresent();
    }

    @Override
    public Optional<Boolean> isAccessGroup(String id) {
        return group(id).map(Group::access);
    }

    @Override
    public boolean hasSetting(String key) {
        return base.estate().catalogue().setting(key).isPresent();
    }

    @Override
    public boolean hasWorkspace(String id) {
        return base.estate().workspace(id).isPresent();
    }

    @Override
    public boolean isRootUnit(String id) {
        return unit(id).filter(u -> u.parent().isEmpty()).isPresent();
    }

    private boolean has(Section section, String id) {
        return section == Section.UNITS
                ? hasUnit(id)
                : section == Section.GROUPS ? group(id).isPresent() : hasAccount(id);
    }

    /** The name of a unit, account or group as it stands now; the id where there is none. */
    String name(Section section, String id) {
        if (section == Section.UNITS) return unit(id).map(Unit::name).orElse(id);
        if (section == Section.GROUPS) return group(id).map(Group::name).orElse(id);
        return account(id).map(Account::displayName).orElse(id);
    }

    /** The name of a unit with that of the one above it, for units of one name are many. */
    String placeName(String id) {
        Optional<Unit> parent = unit(id).flatMap(Unit::parent).flatMap(this::unit);
        return parent.filter(p -> p.parent().isPresent())
                        .map(p -> p.name() + " › ")
                        .orElse("")
                + name(Section.UNITS, id);
    }

    /** Whom a target names. */
    String name(Target target) {
        if (target instanceof Target.OfUnit unit) return name(Section.UNITS, unit.id());
        if (target instanceof Target.OfGroup group) return name(Section.GROUPS, group.id());
        if (target instanceof Target.OfAccount account) return name(Section.ACCOUNTS, account.id());
        if (target instanceof Target.OfWorkspace workspace)
            return base.estate().workspace(workspace.id()).map(w -> w.name()).orElse(workspace.id());
        return base.estate().organisation().name();
    }

    /**
     * Reads an edit of a kind that {@link #knows} knows, without carrying it out.
     *
     * @param naming says which policies name a target
     */
    Optional<Edit.OfDirectory> read(String kind, Place place, PolicyBook naming) {
        if (kind.endsWith("-members")) return membership(kind, place);
        Section section = SECTIONS.get(kind.substring(kind.indexOf('-') + 1));
        if (kind.startsWith("add-")) return addition(section, place);
        Optional<String> id = known(section, place);
        if (id.isEmpty()) return Optional.empty();
        if (kind.startsWith("amend-")) return amendment(section, id.get(), place, naming);
        return removal(section, id.get(), place, naming);
    }

    private Optional<String> known(Section section, Place place) {
        return place.required(noun(section))
                .flatMap(p -> p.id().filter(id -> {
                    if (!has(section, id))
                        p.defect("names the " + noun(section) + " \"" + id + "\", which does not exist (any more)");
                    return has(section, id);
                }));
    }

    private Optional<Edit.OfDirectory> addition(Section section, Place place) {
        Optional<Place> named = place.required(noun(section));
        if (named.isEmpty() || !named.get().isObject()) return Optional.empty();
        ObjectNode body = ((ObjectNode) named.get().node()).deepCopy();
        if (!body.has("id")) {
            String words =
                    body.path(section == Section.ACCOUNTS ? "userName" : "name").asText("");
            body.put("id", freeId(section, words));
        }
        String id = body.path("id").asText();
        Place whole = new Place(body, named.get().pointer(), place.defects());
        int before = place.defects().size();
        check(section, whole);
        if (place.defects().size() == before && has(section, id))
            named.get()
                    .defect("has the id \"" + id + "\", which another " + noun(section)
                            + " has; leave the id out to be given one");
        if (section == Section.UNITS
                && place.defects().size() == before
                && !body.path("parent").isTextual())
            named.get().defect("lacks the member \"parent\"; only the organisation stands below no other unit");
        return place.defects().size() > before ? Optional.empty() : Optional.of(new Edit.AddPart(section, id, body));
    }

    private String freeId(Section section, String words) {
        String local = words.contains("@") ? words.substring(0, words.indexOf('@')) : words;
        return FreeId.of(local, noun(section), id -> has(section, id));
    }

    /** Reads a part as it would be and checks what it names. */
    private void check(Section section, Place whole) {
        if (section == Section.UNITS) {
            Parts.unit(whole)
                    .ifPresent(u -> u.parent()
                            .filter(p -> !hasUnit(p))
                            .ifPresent(p -> whole.member("parent")
                                    .orElseThrow()
                                    .defect("names the unit \"" + p + "\", which does not exist (any more)")));
            notBlank(whole, "name");
        } else if (section == Section.ACCOUNTS) {
            Optional<Account> account = Parts.account(whole);
            account.filter(a -> !a.unit().isEmpty() && !hasUnit(a.unit()))
                    .ifPresent(a -> whole.member("unit")
                            .orElseThrow()
                            .defect("names the unit \"" + a.unit() + "\", which does not exist (any more)"));
            Set<String> rings = base.estate().rings().stream().map(Ring::id).collect(Collectors.toSet());
            for (Place consent : whole.items("consents"))
                consent.member("ring")
                        .filter(r ->
                                r.node().isTextual() && !rings.contains(r.node().textValue()))
                        .ifPresent(r -> r.defect("names a ring that does not exist"));
            notBlank(whole, "displayName");
        } else {
            notBlank(whole, "name");
            Parts.group(whole).ifPresent(group -> {
                for (Place owner : whole.items("owners"))
                    if (owner.node().isTextual() && !hasAccount(owner.node().textValue()))
                        owner.defect("names the account \"" + owner.node().textValue()
                                + "\", which does not exist (any more)");
                checkMembers(group.id(), whole.items("members"));
            });
        }
    }

    private static void notBlank(Place whole, String member) {
        whole.member(member)
                .filter(p -> p.node().isTextual() && p.node().textValue().isBlank())
                .ifPresent(p -> p.defect("must not be empty"));
    }

    /** Checks that members exist and that nesting them closes no cycle. */
    private void checkMembers(String group, List<Place> items) {
        for (Place item : items) {
            Optional<Target> target =
                    item.node().isTextual() ? Target.of(item.node().textValue()) : Optional.empty();
            if (target.isPresent() && target.get() instanceof Target.OfAccount account && !hasAccount(account.id()))
                item.defect("names the account \"" + account.id() + "\", which does not exist (any more)");
            if (target.isPresent() && target.get() instanceof Target.OfGroup inner) {
                if (group(inner.id()).isEmpty() && !inner.id().equals(group))
                    item.defect("names the group \"" + inner.id() + "\", which does not exist (any more)");
                else {
                    List<String> cycle = cycleOfGroups(group, inner.id());
                    if (!cycle.isEmpty())
                        item.defect("would close a cycle of groups: "
                                + cycle.stream()
                                        .map(id -> name(Section.GROUPS, id))
                                        .collect(Collectors.joining(" → ")));
                }
            }
        }
    }

    /** The way from an inner group back to the outer one that would hold it; empty when there is none. */
    private List<String> cycleOfGroups(String outer, String inner) {
        return Topology.order(List.of(outer), id -> {
                    List<String> next = new ArrayList<>(
                            group(id).map(g -> g.members().groups()).orElse(List.of()));
                    if (id.equals(outer)) next = List.of(inner);
                    return next;
                })
                .cycle();
    }

    private Optional<Edit.OfDirectory> amendment(Section section, String id, Place place, PolicyBook naming) {
        Optional<Place> members = place.required("members").filter(Place::isObject);
        if (members.isEmpty()) return Optional.empty();
        for (var member : members.get().members().entrySet())
            if (!AMENDABLE.get(section).contains(member.getKey())) {
                member.getValue()
                        .defect("cannot be amended so; "
                                + AMENDABLE.get(section).stream().sorted().collect(Collectors.joining(", ")) + " can");
                return Optional.empty();
            }
        ObjectNode wanted = (ObjectNode) members.get().node();
        int before = place.defects().size();
        ObjectNode amended = shortBody(section, id);
        PolicyBook.amend(amended, wanted);
        check(section, new Place(amended, members.get().pointer(), place.defects()));
        if (section == Section.UNITS && place.defects().size() == before) checkTree(id, amended, members.get());
        boolean turnsToMailing = section == Section.GROUPS
                && group(id).orElseThrow().access()
                && amended.path("purpose").asText().equals("mailing");
        if (turnsToMailing && place.defects().size() == before) {
            List<String> users = users(section, id, naming, false);
            if (!users.isEmpty())
                members.get()
                        .member("purpose")
                        .orElseThrow()
                        .defect("cannot become mailing: the group is used by " + list(users)
                                + ". Take it out there first, or make another group for mail");
        }
        return place.defects().size() > before
                ? Optional.empty()
                : Optional.of(new Edit.AmendPart(section, id, wanted));
    }

    private void checkTree(String id, ObjectNode amended, Place members) {
        boolean root = isRootUnit(id);
        if (!members.node().has("parent")) return;
        Place at = members.member("parent").orElseThrow();
        if (root) {
            at.defect("cannot be given: this is the organisation, and everything stands below it");
            return;
        }
        if (!amended.path("parent").isTextual()) {
            at.defect("cannot be taken away: only the organisation stands below no other unit");
            return;
        }
        List<String> way = new ArrayList<>(List.of(id));
        for (String up = amended.get("parent").textValue();
                up != null;
                up = unit(up).flatMap(Unit::parent).orElse(null)) {
            way.add(up);
            if (up.equals(id)) {
                at.defect("would close a cycle of units: "
                        + way.stream().map(u -> name(Section.UNITS, u)).collect(Collectors.joining(" → ")));
                return;
            }
        }
    }

    /** A part as far as checking needs it, without asking for the stored body. */
    private ObjectNode shortBody(Section section, String id) {
        ObjectNode body = Json.NODES.objectNode().put("id", id);
        if (section == Section.UNITS) {
            Unit unit = unit(id).orElseThrow();
            body.put("name", unit.name());
            unit.parent().ifPresent(p -> body.put("parent", p));
        } else if (section == Section.ACCOUNTS) {
            Account account = account(id).orElseThrow();
            body.put("userName", account.userName())
                    .put("displayName", account.displayName())
                    .put("kind", account.kind().word())
                    .put("unit", account.unit())
                    .put("active", account.active());
            account.started().ifPresent(day -> body.put("started", day.toString()));
            ArrayNode consents = body.putArray("consents");
            account.consents()
                    .forEach(c -> consents.addObject().put("ring", c.ring()).put("at", c.at().toString()));
            account.title().ifPresent(t -> body.putObject("attributes").put("title", t));
        } else {
            Group group = group(id).orElseThrow();
            body.put("name", group.name()).put("purpose", group.access() ? "access" : "mailing");
            ArrayNode owners = body.putArray("owners");
            group.owners().forEach(owners::add);
        }
        return body;
    }

    private Optional<Edit.OfDirectory> removal(Section section, String id, Place place, PolicyBook naming) {
        Place at = place.member(noun(section)).orElseThrow();
        if (section == Section.UNITS && isRootUnit(id)) {
            at.defect("is the organisation itself and cannot be taken away");
            return Optional.empty();
        }
        List<String> users = users(section, id, naming, true);
        if (!users.isEmpty()) {
            at.defect("cannot be taken away: " + name(section, id) + " is used by " + list(users)
                    + (section == Section.ACCOUNTS
                            ? ". Deactivate the account, or take it out there first"
                            : ". Take it out there first"));
            return Optional.empty();
        }
        return Optional.of(new Edit.RemovePart(section, id));
    }

    private static String list(List<String> names) {
        return names.size() <= NAMED
                ? String.join(", ", names)
                : String.join(", ", names.subList(0, NAMED)) + " and " + (names.size() - NAMED) + " more";
    }

    /**
     * What names a part, in words.
     *
     * @param all also what may name it whatever its purpose: groups that hold it, what stands in it
     */
    List<String> users(Section section, String id, PolicyBook naming, boolean all) {
        String target = noun(section) + ":" + id;
        List<String> users = new ArrayList<>();
        naming.naming(target).forEach(p -> users.add("the policy " + p));
        base.estate().plans().forEach(plan -> {
            boolean ruled =
                    plan.assignments().stream().anyMatch(a -> a.target().text().equals(target));
            boolean held = section == Section.ACCOUNTS
                    && plan.holders().stream().anyMatch(h -> h.account().equals(id));
            if (ruled || held) users.add("the plan " + plan.name());
        });
        base.estate().releases().stream()
                .filter(r -> r.early().stream().anyMatch(e -> e.to().text().equals(target)))
                .forEach(r -> users.add("the release of "
                        + base.estate()
                                .catalogue()
                                .setting(r.setting())
                                .orElseThrow()
                                .title()));
        if (!all) return users;
        if (section == Section.UNITS) {
            allUnits()
                    .filter(u -> u.parent().filter(id::equals).isPresent())
                    .forEach(u -> users.add("the unit " + u.name()));
            accountsIn(id).forEach(a -> users.add(a.displayName()));
            return users;
        }
        Predicate<Members> holds = section == Section.GROUPS
                ? m -> m.groups().contains(id)
                : m -> m.accounts().contains(id);
        allGroups().forEach(g -> {
            boolean mayHold = section == Section.GROUPS
                    || groups.containsKey(g.id())
                    || base.directory().groupsOf(id).contains(g.id());
            if (mayHold && holds.test(g.members())
                    || section == Section.ACCOUNTS && g.owners().contains(id)) users.add("the group " + g.name());
        });
        base.estate().workspaces().forEach(w -> {
            if (holds.test(w.members())
                    || section == Section.ACCOUNTS && w.stewards().contains(id)) users.add("the workspace " + w.name());
        });
        return users;
    }

    private Stream<Unit> allUnits() {
        return Stream.concat(
                base.estate().units().stream().filter(u -> !units.containsKey(u.id())),
                units.values().stream().flatMap(Optional::stream));
    }

    private Stream<Group> allGroups() {
        return Stream.concat(
                base.estate().groups().stream().filter(g -> !groups.containsKey(g.id())),
                groups.values().stream().flatMap(Optional::stream));
    }

    private Stream<Account> accountsIn(String unit) {
        Directory directory = base.directory();
        Stream<Account> stayed = directory.directlyIn(unit).stream()
                .mapToObj(directory::account)
                .filter(a -> !accounts.containsKey(a.id())
                        && base.estate().account(a.id()).isPresent());
        return Stream.concat(
                stayed,
                accounts.values().stream()
                        .flatMap(Optional::stream)
                        .filter(a -> a.unit().equals(unit)));
    }

    private Optional<Edit.OfDirectory> membership(String kind, Place place) {
        Optional<String> id = known(Section.GROUPS, place);
        Optional<Place> list = place.required("who");
        if (id.isEmpty() || list.isEmpty()) return Optional.empty();
        int before = place.defects().size();
        List<Place> items = list.get().items();
        if (list.get().node().isArray() && items.isEmpty()) list.get().defect("must name at least one member");
        Members who = Parts.members(items);
        Members present = group(id.get()).orElseThrow().members();
        boolean puts = kind.equals("put-members");
        if (puts) checkMembers(id.get(), items);
        Set<String> in = new HashSet<>(present.groups());
        Set<String> wanted = new HashSet<>(who.accounts());
        present.accounts().stream().filter(wanted::contains).forEach(in::add);
        if (!puts)
            for (Place item : items)
                if (item.node().isTextual()
                        && !in.contains(item.node()
                                .textValue()
                                .substring(item.node().textValue().indexOf(':') + 1)))
                    item.defect("is no member of " + name(Section.GROUPS, id.get()) + " (any more)");
        if (place.defects().size() > before) return Optional.empty();
        if (!puts) return Optional.of(new Edit.RemoveMembers(id.get(), who));
        return Optional.of(new Edit.PutMembers(id.get(), who.without(present)));
    }

    void carryOut(Edit.OfDirectory edit) {
        Section section = edit.section();
        String id = edit.id();
        if (edit instanceof Edit.AddPart add) {
            put(section, id, new Writing(Optional.of(add.body()), List.of()), add.body());
        } else if (edit instanceof Edit.RemovePart) {
            if (section == Section.UNITS) units.put(id, Optional.empty());
            else if (section == Section.ACCOUNTS) accounts.put(id, Optional.empty());
            else groups.put(id, Optional.empty());
            writings.get(section).remove(id);
        } else if (edit instanceof Edit.AmendPart amend) {
            ObjectNode amended = shortBody(section, id);
            PolicyBook.amend(amended, amend.members());
            put(section, id, writing(section, id).and(body -> PolicyBook.amend(body, amend.members())), amended);
        } else if (edit instanceof Edit.PutMembers put) {
            members(id, group(id).orElseThrow().members().with(put.who()), body -> {
                ArrayNode members =
                        body.path("members").isArray() ? (ArrayNode) body.get("members") : body.putArray("members");
                put.who().texts().forEach(members::add);
            });
        } else if (edit instanceof Edit.RemoveMembers remove) {
            Set<String> gone = remove.who().texts().collect(Collectors.toCollection(LinkedHashSet::new));
            members(id, group(id).orElseThrow().members().without(remove.who()), body -> {
                ArrayNode kept = Json.NODES.arrayNode();
                body.path("members").forEach(m -> {
                    if (!gone.contains(m.asText())) kept.add(m);
                });
                body.set("members", kept);
            });
        }
    }

    private void members(String id, Members members, Consumer<ObjectNode> alteration) {
        Group was = group(id).orElseThrow();
        groups.put(id, Optional.of(new Group(id, was.name(), was.access(), was.owners(), members)));
        writings.get(Section.GROUPS).put(id, writing(Section.GROUPS, id).and(alteration));
    }

    private Writing writing(Section section, String id) {
        return writings.get(section).getOrDefault(id, new Writing(Optional.empty(), List.of()));
    }

    private void put(Section section, String id, Writing writing, ObjectNode body) {
        Place place = new Place(body, "", new Defects());
        if (section == Section.UNITS) units.put(id, Parts.unit(place));
        else if (section == Section.ACCOUNTS) accounts.put(id, Parts.account(place));
        else {
            Group read = Parts.group(place).orElseThrow();
            Members members =
                    writing.fresh().isPresent() && writing.alterations().isEmpty()
                            ? read.members()
                            : group(id).orElseThrow().members();
            groups.put(id, Optional.of(new Group(id, read.name(), read.access(), read.owners(), members)));
        }
        writings.get(section).put(id, writing);
    }

    /** A part as the estate file writes it, as it stands now. */
    ObjectNode body(Section section, String id) {
        Writing writing = writing(section, id);
        ObjectNode body = writing.fresh()
                .map(ObjectNode::deepCopy)
                .orElseGet(() -> bodies.body(section, id).deepCopy());
        writing.alterations().forEach(a -> a.accept(body));
        return body;
    }

    boolean isTouched() {
        return !units.isEmpty() || !accounts.isEmpty() || !groups.isEmpty();
    }

    Map<String, Optional<Unit>> units() {
        return units;
    }

    Map<String, Optional<Account>> accounts() {
        return accounts;
    }

    Map<String, Optional<Group>> groups() {
        return groups;
    }

    /** Ids of parts of a section that were added or changed and are there. */
    Set<String> written(Section section) {
        return writings.get(section).keySet();
    }

    /** Ids of parts of a section that the estate has and that are no more. */
    List<String> removed(Section section) {
        Map<String, ? extends Optional<?>> changed =
                section == Section.UNITS ? units : section == Section.ACCOUNTS ? accounts : groups;
        return changed.entrySet().stream()
                .filter(e -> e.getValue().isEmpty())
                .map(Map.Entry::getKey)
                .filter(id -> section == Section.UNITS
                        ? base.estate().unit(id).isPresent()
                        : section == Section.ACCOUNTS
                                ? base.estate().account(id).isPresent()
                                : base.estate().group(id).isPresent())
                .toList();
    }

    /** Whether some unit is new, gone, or below another than before. */
    boolean isTreeChanged() {
        return units.entrySet().stream()
                .anyMatch(e -> !base.estate()
                                .unit(e.getKey())
                                .flatMap(Unit::parent)
                                .equals(e.getValue().flatMap(Unit::parent))
                        || base.estate().unit(e.getKey()).isPresent()
                                != e.getValue().isPresent());
    }
}
