package leanladder.server.directory;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import leanladder.catalogue.AccountKind;
import leanladder.catalogue.AppVersion;
import leanladder.edit.directory.AddMembers;
import leanladder.edit.session.EditSession;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Unit;
import leanladder.json.Instants;
import leanladder.json.Json;
import leanladder.server.csvimport.CsvColumns;
import leanladder.server.csvimport.CsvLines.Line;
import leanladder.server.csvimport.ImportReport.RefusedLine;
import leanladder.server.csvimport.ImportReport.Verdict;
import leanladder.server.state.Snapshot;
import leanladder.workingcopy.MembershipDelta;

/** Reads lines about people, units or members of groups. */
final class ImportRowParser {
    private final Estate estate;
    private final EditSession editSession;
    private final AddressResolver addressResolver;
    private final Map<String, List<String>> unitsByName = new HashMap<>();
    private final Map<String, String> unitByPath = new HashMap<>();
    private final Map<String, List<Group>> groupsByName = new HashMap<>();
    /** The devices of accounts as the lines so far leave them, by account and device. */
    private final Map<String, Map<String, ObjectNode>> devices = new HashMap<>();

    private final Function<Line, Verdict> read;

    /** @param what people, units or members */
    ImportRowParser(Snapshot snapshot, EditSession editSession, String what, List<Line> lines) {
        estate = snapshot.estate();
        this.editSession = editSession;
        read = switch (what) {
            case "people" -> this::person;
            case "units" -> this::unit;
            case "devices" -> this::device;
            default -> this::member;
        };
        List<String> wanted = new ArrayList<>();
        for (Line line : lines) for (String name : List.of("id", "address", "member")) wanted.add(line.get(name));
        addressResolver = new AddressResolver(estate, wanted);
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

    /** The columns that are read. @param what people, units or members */
    static CsvColumns columns(String what) {
        CsvColumns columns = new CsvColumns();
        return switch (what) {
            case "people" ->
                columns.with("id")
                        .with("address", "username", "e-mail", "email", "mail", "e-mail address", "email address")
                        .with("name", "displayname", "display name", "full name")
                        .with("kind", "type")
                        .with("unit", "department", "team", "organisational unit")
                        .with("title", "job title", "position")
                        .with("started", "start", "start date", "hired")
                        .with("active");
            case "devices" ->
                columns.with("address", "account", "username", "e-mail", "email", "owner")
                        .with("device", "device id", "serial", "serial number")
                        .with("kind", "type", "device kind")
                        .with("name", "device name")
                        .with("app", "application")
                        .with("version", "app version")
                        .with("seen", "last seen", "last used");
            case "units" -> columns.with("id").with("name").with("parent", "above", "parent unit");
            default -> columns.with("group").with("member", "address", "e-mail", "email", "id");
        };
    }

    /** The verdict on a line, against the edit session as the lines before it left it. */
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
        throw new RefusedLine(
                named.isEmpty()
                        ? "There is no unit \"" + text + "\"; write its id or its path."
                        : named.size() + " units are called \"" + text + "\"; write the path.");
    }

    private Optional<String> unitId(Line line, String column) {
        return Optional.of(line.get(column)).filter(u -> !u.isEmpty()).map(this::unitId);
    }

    private Verdict person(Line line) {
        String id = line.get("id");
        String address = line.get("address");
        if (id.isEmpty() && address.isEmpty()) throw new RefusedLine("Neither an id nor an address stands there.");
        Optional<Account> known = id.isEmpty() ? addressResolver.one(address) : estate.account(id);
        if (known.isEmpty() && id.isEmpty() && addressResolver.of(address).size() > 1)
            throw new RefusedLine("The address " + address + " belongs to more than one account; write the id.");
        ObjectNode members = Json.NODES.objectNode();
        put(members, "userName", address, known.map(Account::userName));
        put(members, "displayName", line.get("name"), known.map(Account::displayName));
        put(
                members,
                "kind",
                line.get("kind").toLowerCase(Locale.ROOT),
                known.map(a -> a.kind().word()));
        unitId(line, "unit").ifPresent(u -> put(members, "unit", u, known.map(Account::unit)));
        String started = line.get("started");
        if (!started.isEmpty() && Instants.day(started).isEmpty())
            throw new RefusedLine("\"" + started + "\" is no day; write it as 2026-11-23.");
        put(members, "started", started, known.flatMap(Account::started).map(Object::toString));
        String active = line.get("active").toLowerCase(Locale.ROOT);
        if (!active.isEmpty() && !Set.of("true", "false", "yes", "no").contains(active))
            throw new RefusedLine("\"" + active + "\" in the column active is neither true nor false.");
        boolean isActive = active.equals("true") || active.equals("yes");
        if (!active.isEmpty() && known.map(Account::active).orElse(true) != isActive) members.put("active", isActive);
        String title = line.get("title");
        if (!title.isEmpty() && !known.flatMap(Account::title).equals(Optional.of(title)))
            members.putObject("attributes").put("title", title);
        String name = known.map(Account::displayName).orElse(line.get("name"));
        return known.isPresent() ? altered("account", known.get().id(), name, members) : newPerson(id, name, members);
    }

    private Verdict newPerson(String id, String name, ObjectNode members) {
        if (!members.has("unit")) throw new RefusedLine("A new account needs a unit.");
        if (!members.has("displayName")) throw new RefusedLine("A new account needs a name.");
        if (!members.has("kind")) members.put("kind", AccountKind.PERSON.word());
        if (!members.has("userName")) throw new RefusedLine("A new account needs an address.");
        if (!id.isEmpty()) members.put("id", id);
        ObjectNode edit = Json.NODES.objectNode().put("kind", "add-account");
        edit.set("account", members);
        return Verdict.fresh(
                name + " in "
                        + editSession.overlay().placeName(members.get("unit").asText()),
                edit);
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
        Optional<String> parent = unitId(line, "parent");
        ObjectNode members = Json.NODES.objectNode();
        put(members, "name", name, known.map(Unit::name));
        parent.ifPresent(p -> put(members, "parent", p, known.flatMap(Unit::parent)));
        if (known.isPresent()) return altered("unit", id, known.get().name(), members);
        if (name.isEmpty()) throw new RefusedLine("A new unit needs a name.");
        if (parent.isEmpty()) throw new RefusedLine("A new unit needs the unit above it in the column parent.");
        if (!id.isEmpty()) members.put("id", id);
        ObjectNode edit = Json.NODES.objectNode().put("kind", "add-unit");
        edit.set("unit", members);
        return Verdict.fresh(name + " below " + editSession.overlay().placeName(parent.get()), edit);
    }

    /** One app on one device; further lines of the same device add apps to it, and what the file does not list stays. */
    private Verdict device(Line line) {
        String named = line.get("address");
        if (named.isEmpty()) throw new RefusedLine("Whose device it is does not stand there.");
        Account account = estate.account(named)
                .or(() -> addressResolver.one(named))
                .orElseThrow(
                        () -> new RefusedLine("Nobody, or more than one, has the address or id \"" + named + "\"."));
        String id = line.get("device");
        if (id.isEmpty()) throw new RefusedLine("The device has no id in the column device.");
        Map<String, ObjectNode> known = devices.computeIfAbsent(account.id(), a -> new LinkedHashMap<>());
        if (known.isEmpty()) account.devices().forEach(d -> known.put(d.id(), d.json()));
        ObjectNode before = known.get(id);
        ObjectNode device = before == null ? Json.NODES.objectNode().put("id", id) : before.deepCopy();
        for (String member : List.of("kind", "name"))
            if (!line.get(member).isEmpty()) device.put(member, line.get(member));
        if (!device.has("kind")) throw new RefusedLine("A new device needs a kind, such as tablet.");
        String app = line.get("app");
        if (!app.isEmpty()) {
            if (line.get("version").isEmpty())
                throw new RefusedLine("The app " + app + " stands there without a version.");
            if (AppVersion.parse(line.get("version")).isEmpty())
                throw new RefusedLine("\"" + line.get("version") + "\" is no version; write it as 5.2.");
            device.withObject("/apps").put(app(app), line.get("version"));
        }
        String seen = line.get("seen");
        if (!seen.isEmpty()) device.put("seen", instant(seen));
        if (device.equals(before)) return Verdict.same(account.displayName() + ": " + told(device));
        known.put(id, device);
        ObjectNode edit = Json.NODES.objectNode().put("kind", "amend-account").put("account", account.id());
        ArrayNode all = edit.putObject("members").putArray("devices");
        known.values().forEach(all::add);
        String words = account.displayName() + ": " + told(device);
        return before == null ? Verdict.fresh(words, edit) : Verdict.altered(words, edit);
    }

    private String app(String named) {
        return estate.catalogue().apps().entrySet().stream()
                .filter(app -> app.getKey().equals(named) || app.getValue().equalsIgnoreCase(named))
                .map(Map.Entry::getKey)
                .findFirst()
                .orElseThrow(() -> new RefusedLine("The catalogue has no app \"" + named + "\"."));
    }

    private String instant(String text) {
        return Instants.day(text)
                .map(day -> day.atStartOfDay(estate.organisation().zone()).toInstant())
                .or(() -> Instants.instant(text))
                .map(Object::toString)
                .orElseThrow(() -> new RefusedLine("\"" + text + "\" is no day; write it as 2026-11-23."));
    }

    private static String told(ObjectNode device) {
        String apps = device.path("apps").properties().stream()
                .map(app -> app.getKey() + " " + app.getValue().asText())
                .collect(Collectors.joining(", "));
        return device.path("name").asText(device.get("kind").asText()) + (apps.isEmpty() ? "" : " with " + apps);
    }

    private Verdict member(Line line) {
        String named = line.get("group");
        if (named.isEmpty()) throw new RefusedLine("No group stands there.");
        List<Group> groups = estate.group(named)
                .map(List::of)
                .orElse(groupsByName.getOrDefault(named.toLowerCase(Locale.ROOT), List.of()));
        if (groups.isEmpty()) throw new RefusedLine("There is no group \"" + named + "\".");
        if (groups.size() > 1)
            throw new RefusedLine(groups.size() + " groups are called \"" + named + "\"; write the id.");
        Group group = groups.get(0);
        String member = line.get("member");
        if (member.isEmpty()) throw new RefusedLine("No member stands there.");
        List<Account> accounts = addressResolver.of(member);
        if (accounts.isEmpty()) throw new RefusedLine("Nobody has the address, id or name \"" + member + "\".");
        if (accounts.size() > 1)
            throw new RefusedLine("\"" + member + "\" can mean " + accounts.size() + " accounts; write the address.");
        Account account = accounts.get(0);
        MembershipDelta present = editSession.overlay().members(group.id()).orElseThrow();
        if (present.hasAccount(account.id())) return Verdict.same(account.displayName() + " is in " + group.name());
        ObjectNode edit =
                Json.NODES.objectNode().put("kind", AddMembers.KIND.name()).put("group", group.id());
        edit.putArray("who").add("account:" + account.id());
        return Verdict.fresh(account.displayName() + " joins " + group.name(), edit);
    }
}
