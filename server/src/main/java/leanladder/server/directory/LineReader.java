package leanladder.server.directory;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import leanladder.catalogue.Kind;
import leanladder.change.Book;
import leanladder.change.directory.PutMembers;
import leanladder.change.overlay.EditedMembers;
import leanladder.document.Instants;
import leanladder.document.Json;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Unit;
import leanladder.server.lines.CsvLines.Line;
import leanladder.server.lines.LineReport.Refused;
import leanladder.server.lines.LineReport.Verdict;
import leanladder.server.live.Snapshot;

/** Reads lines about people, units or members of groups. */
final class LineReader {
    private final Estate estate;
    private final Book book;
    private final Addresses addresses;
    private final Map<String, List<String>> unitsByName = new HashMap<>();
    private final Map<String, String> unitByPath = new HashMap<>();
    private final Map<String, List<Group>> groupsByName = new HashMap<>();
    private final Function<Line, Verdict> read;

    /** @param what people, units or members */
    LineReader(Snapshot snapshot, Book book, String what, List<Line> lines) {
        estate = snapshot.estate();
        this.book = book;
        read = switch (what) {
            case "people" -> this::person;
            case "units" -> this::unit;
            default -> this::member;
        };
        List<String> wanted = new ArrayList<>();
        for (Line line : lines) for (String name : List.of("id", "address", "member")) wanted.add(line.get(name));
        addresses = new Addresses(estate, wanted);
        var tree = snapshot.directory().tree();
        for (Unit unit : estate.units()) {
            List<String> names = tree.path(unit.id()).stream().map(Unit::name).toList();
            unitByPath.put(String.join(" / ", names).toLowerCase(Locale.ROOT), unit.id());
            if (names.size() > 1)
                unitByPath.putIfAbsent(
                        String.join(" / ", names.subList(1, names.size())).toLowerCase(Locale.ROOT), unit.id());
            unitsByName
                    .computeIfAbsent(unit.name().toLowerCase(Locale.ROOT), k -> new ArrayList<>())
                    .add(unit.id());
        }
        estate.groups()
                .forEach(g -> groupsByName
                        .computeIfAbsent(g.name().toLowerCase(Locale.ROOT), k -> new ArrayList<>())
                        .add(g));
    }

    /** The verdict on a line, against the book as the lines before it left it. */
    Verdict read(Line line) {
        return read.apply(line);
    }

    /** The id of a unit named by id, path or a name that only one has. */
    private String unitId(String text) {
        if (estate.unit(text).isPresent()) return text;
        String key = text.replaceAll("\\s*[/›>]\\s*", " / ").toLowerCase(Locale.ROOT);
        if (unitByPath.containsKey(key)) return unitByPath.get(key);
        List<String> named = unitsByName.getOrDefault(key, List.of());
        if (named.size() == 1) return named.get(0);
        throw new Refused(
                named.isEmpty()
                        ? "There is no unit \"" + text + "\"; write its id or its path."
                        : named.size() + " units are called \"" + text + "\"; write the path.");
    }

    private Optional<String> unitId(Line line, String... columns) {
        return Optional.of(line.get(columns)).filter(u -> !u.isEmpty()).map(this::unitId);
    }

    private Verdict person(Line line) {
        String id = line.get("id");
        String address = line.get("address", "username");
        if (id.isEmpty() && address.isEmpty()) throw new Refused("Neither an id nor an address stands there.");
        Optional<Account> known = id.isEmpty() ? addresses.one(address) : estate.account(id);
        if (known.isEmpty() && id.isEmpty() && addresses.of(address).size() > 1)
            throw new Refused("The address " + address + " belongs to more than one account; write the id.");
        ObjectNode members = Json.NODES.objectNode();
        put(members, "userName", address, known.map(Account::userName));
        put(members, "displayName", line.get("name", "displayname"), known.map(Account::displayName));
        put(
                members,
                "kind",
                line.get("kind").toLowerCase(Locale.ROOT),
                known.map(a -> a.kind().word()));
        unitId(line, "unit").ifPresent(u -> put(members, "unit", u, known.map(Account::unit)));
        String started = line.get("started");
        if (!started.isEmpty() && Instants.day(started).isEmpty())
            throw new Refused("\"" + started + "\" is no day; write it as 2026-11-23.");
        put(members, "started", started, known.flatMap(Account::started).map(Object::toString));
        String active = line.get("active").toLowerCase(Locale.ROOT);
        if (!active.isEmpty() && !Set.of("true", "false", "yes", "no").contains(active))
            throw new Refused("\"" + active + "\" in the column active is neither true nor false.");
        boolean isActive = active.equals("true") || active.equals("yes");
        if (!active.isEmpty() && known.map(Account::active).orElse(true) != isActive) members.put("active", isActive);
        String title = line.get("title");
        if (!title.isEmpty() && !known.flatMap(Account::title).equals(Optional.of(title)))
            members.putObject("attributes").put("title", title);
        String name = known.map(Account::displayName).orElse(line.get("name", "displayname"));
        return known.isPresent() ? altered("account", known.get().id(), name, members) : newPerson(id, name, members);
    }

    private Verdict newPerson(String id, String name, ObjectNode members) {
        if (!members.has("unit")) throw new Refused("A new account needs a unit.");
        if (!members.has("displayName")) throw new Refused("A new account needs a name.");
        if (!members.has("kind")) members.put("kind", Kind.PERSON.word());
        if (!members.has("userName")) throw new Refused("A new account needs an address.");
        if (!id.isEmpty()) members.put("id", id);
        ObjectNode edit = Json.NODES.objectNode().put("kind", "add-account");
        edit.set("account", members);
        return Verdict.fresh(
                name + " in " + book.overlay().placeName(members.get("unit").asText()), edit);
    }

    private static void put(ObjectNode members, String member, String value, Optional<String> is) {
        if (!value.isEmpty() && !is.equals(Optional.of(value))) members.put(member, value);
    }

    private static Verdict altered(String noun, String id, String name, ObjectNode members) {
        if (members.isEmpty()) return Verdict.same(name);
        ObjectNode edit = Json.NODES.objectNode().put("kind", "amend-" + noun).put(noun, id);
        edit.set("members", members);
        List<String> what = new ArrayList<>();
        members.properties().forEach(m -> what.add(told(m.getKey(), m.getValue())));
        return Verdict.altered(name + ": " + String.join(", ", what), edit);
    }

    /** What a line alters, in the words of the columns. */
    private static String told(String member, JsonNode value) {
        return switch (member) {
            case "displayName", "name" -> "name " + value.asText();
            case "userName" -> "address " + value.asText();
            case "attributes" -> "title " + value.path("title").asText();
            case "active" -> value.asBoolean() ? "active again" : "deactivated";
            case "unit", "parent" -> "another " + member;
            default -> member + " " + value.asText();
        };
    }

    private Verdict unit(Line line) {
        String id = line.get("id");
        String name = line.get("name");
        Optional<Unit> known = estate.unit(id);
        Optional<String> parent = unitId(line, "parent", "above");
        ObjectNode members = Json.NODES.objectNode();
        put(members, "name", name, known.map(Unit::name));
        parent.ifPresent(p -> put(members, "parent", p, known.flatMap(Unit::parent)));
        if (known.isPresent()) return altered("unit", id, known.get().name(), members);
        if (name.isEmpty()) throw new Refused("A new unit needs a name.");
        if (parent.isEmpty()) throw new Refused("A new unit needs the unit above it in the column parent.");
        if (!id.isEmpty()) members.put("id", id);
        ObjectNode edit = Json.NODES.objectNode().put("kind", "add-unit");
        edit.set("unit", members);
        return Verdict.fresh(name + " below " + book.overlay().placeName(parent.get()), edit);
    }

    private Verdict member(Line line) {
        String named = line.get("group");
        if (named.isEmpty()) throw new Refused("No group stands there.");
        List<Group> groups = estate.group(named)
                .map(List::of)
                .orElse(groupsByName.getOrDefault(named.toLowerCase(Locale.ROOT), List.of()));
        if (groups.isEmpty()) throw new Refused("There is no group \"" + named + "\".");
        if (groups.size() > 1) throw new Refused(groups.size() + " groups are called \"" + named + "\"; write the id.");
        Group group = groups.get(0);
        String member = line.get("member", "address", "id");
        if (member.isEmpty()) throw new Refused("No member stands there.");
        List<Account> accounts = addresses.of(member);
        if (accounts.isEmpty()) throw new Refused("Nobody has the address, id or name \"" + member + "\".");
        if (accounts.size() > 1)
            throw new Refused("\"" + member + "\" can mean " + accounts.size() + " accounts; write the address.");
        Account account = accounts.get(0);
        EditedMembers present = book.overlay().members(group.id()).orElseThrow();
        if (present.hasAccount(account.id())) return Verdict.same(account.displayName() + " is in " + group.name());
        ObjectNode edit =
                Json.NODES.objectNode().put("kind", PutMembers.KIND.name()).put("group", group.id());
        edit.putArray("who").add("account:" + account.id());
        return Verdict.fresh(account.displayName() + " joins " + group.name(), edit);
    }
}
