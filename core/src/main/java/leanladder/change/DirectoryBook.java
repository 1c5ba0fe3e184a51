package leanladder.change;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Account;
import leanladder.estate.Group;
import leanladder.estate.Members;
import leanladder.estate.Target;
import leanladder.estate.Unit;
import leanladder.estate.read.Parts;
import leanladder.estate.read.References;
import leanladder.estate.read.Section;
import leanladder.reach.Directory;
import leanladder.resolve.Ground;

/**
 * The units, accounts and groups while edits are read and carried out: an overlay over the estate that holds only what was
 * changed. Whatever does not fit is reported at its place and the edit is left out.
 *
 * <p>The forms of edits, by their member {@code kind}, for a unit; those for an {@code account} and a {@code group} are alike: {@code
 * add-unit} (unit), {@code amend-unit} (unit, members), {@code remove-unit} (unit). Groups have {@code put-members} and {@code
 * remove-members} (group, who) beside.
 */
final class DirectoryBook implements References {
    static final Map<String, Section> SECTIONS =
            Map.of("unit", Section.UNITS, "account", Section.ACCOUNTS, "group", Section.GROUPS);

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

    boolean has(Section section, String id) {
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

    /** A part as far as checking needs it, without asking for the stored body. */
    ObjectNode shortBody(Section section, String id) {
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

    Stream<Unit> allUnits() {
        return Stream.concat(
                base.estate().units().stream().filter(u -> !units.containsKey(u.id())),
                units.values().stream().flatMap(Optional::stream));
    }

    Stream<Group> allGroups() {
        return Stream.concat(
                base.estate().groups().stream().filter(g -> !groups.containsKey(g.id())),
                groups.values().stream().flatMap(Optional::stream));
    }

    Stream<Account> accountsIn(String unit) {
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
