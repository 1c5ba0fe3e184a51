package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.MappingIterator;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.fasterxml.jackson.dataformat.csv.CsvMapper;
import com.fasterxml.jackson.dataformat.csv.CsvParser;
import com.fasterxml.jackson.dataformat.csv.CsvSchema;
import io.javalin.http.Context;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Kind;
import leanladder.change.Book;
import leanladder.document.Defects;
import leanladder.document.Instants;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Unit;

/**
 * Reads people, units or group members from comma-separated values. Every line is reported before anything is staged; the answer
 * holds the one batch edit that stages those lines that fit.
 */
record ImportRoutes(Estates estates) {
    private static final int MOST_LINES = 200_000;
    private static final CsvMapper MAPPER = CsvMapper.builder()
            .enable(CsvParser.Feature.WRAP_AS_ARRAY)
            .enable(CsvParser.Feature.TRIM_SPACES)
            .enable(CsvParser.Feature.SKIP_EMPTY_LINES)
            .build();

    /** One line of the file by its headings, lower-case. */
    private record Line(int number, Map<String, String> cells) {
        String get(String... names) {
            for (String name : names) if (!cells.getOrDefault(name, "").isEmpty()) return cells.get(name);
            return "";
        }

        boolean has(String name) {
            return cells.containsKey(name);
        }
    }

    /** What becomes of a line: an edit, nothing because all is so already, or a reason why it cannot be. */
    private record Verdict(String word, String told, Optional<ObjectNode> edit) {
        static Verdict refused(String why) {
            return new Verdict("refused", why, Optional.empty());
        }
    }

    void read(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Set.of("draft", "name"), Set.of());
        String what = ctx.pathParam("what");
        if (!Set.of("people", "units", "members").contains(what))
            throw Problem.unknown("Only people, units and members can be read from a file.");
        Present present = query.one("draft").map(estates::after).orElseGet(estates::present);
        List<Line> lines = lines(ctx);
        Reader reader = new Reader(present, lines);
        ObjectNode told = Answers.object();
        ArrayNode list = told.putArray("lines");
        ObjectNode batch = Answers.object()
                .put("kind", "batch")
                .put("source", query.one("name").orElse("a file"));
        ArrayNode edits = batch.putArray("edits");
        Map<String, Integer> counts = new LinkedHashMap<>();
        for (Line line : lines) {
            Verdict verdict = what.equals("people")
                    ? reader.person(line)
                    : what.equals("units") ? reader.unit(line) : reader.member(line);
            Verdict tried = reader.tried(verdict);
            counts.merge(tried.word, 1, Integer::sum);
            list.addObject().put("line", line.number).put("verdict", tried.word).put("told", tried.told);
            tried.edit.ifPresent(edits::add);
        }
        ObjectNode counted = told.putObject("counts");
        for (String word : List.of("new", "altered", "same", "refused"))
            counted.put(word, counts.getOrDefault(word, 0));
        told.set("edit", edits.isEmpty() ? Json.NODES.nullNode() : batch);
        Answers.json(ctx, told);
    }

    private static List<Line> lines(Context ctx) {
        List<Line> lines = new ArrayList<>();
        try (MappingIterator<String[]> rows =
                MAPPER.readerFor(String[].class).with(CsvSchema.emptySchema()).readValues(ctx.bodyInputStream())) {
            if (!rows.hasNext()) throw Problem.wrongInput("The file is empty; its first line must name the columns.");
            String[] heading = rows.next();
            for (int i = 0; i < heading.length; i++)
                heading[i] = heading[i].replace("\uFEFF", "").strip().toLowerCase(Locale.ROOT);
            while (rows.hasNext()) {
                String[] row = rows.next();
                Map<String, String> cells = new HashMap<>();
                for (int i = 0; i < Math.min(row.length, heading.length); i++)
                    cells.put(heading[i], Csv.read(row[i] == null ? "" : row[i].strip()));
                lines.add(new Line(rows.getCurrentLocation() == null ? lines.size() + 2 : lines.size() + 2, cells));
                if (lines.size() > MOST_LINES)
                    throw Problem.wrongInput("The file has more than " + MOST_LINES + " lines; split it.");
            }
        } catch (IOException | RuntimeException e) {
            if (e instanceof Problem problem) throw problem;
            throw Problem.wrongInput("The file cannot be read as comma-separated values: "
                    + String.valueOf(e.getMessage()).lines().findFirst().orElse("it is broken")
                    + ". Nothing was staged.");
        }
        return lines;
    }

    /** Reads lines against an estate, each after those before it. */
    private static final class Reader {
        private final Estate estate;
        private final Book book;
        private final Addresses addresses;
        private final Map<String, List<String>> unitsByName = new HashMap<>();
        private final Map<String, String> unitByPath = new HashMap<>();
        private final Map<String, List<Group>> groupsByName = new HashMap<>();

        Reader(Present present, List<Line> lines) {
            estate = present.ground().estate();
            book = new Book(present.ground(), (section, key) -> Answers.object().put("id", key));
            List<String> wanted = new ArrayList<>();
            for (Line line : lines) for (String name : List.of("id", "address", "member")) wanted.add(line.get(name));
            addresses = new Addresses(estate, wanted);
            var tree = present.ground().directory().tree();
            for (Unit unit : estate.units()) {
                List<String> names =
                        tree.path(unit.id()).stream().map(Unit::name).toList();
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

        /** The id of a unit named by id, path or a name that only one has; or the reason why there is none. */
        private Object unitId(String text) {
            if (estate.unit(text).isPresent()) return text;
            String key = text.replaceAll("\\s*[/›>]\\s*", " / ").toLowerCase(Locale.ROOT);
            if (unitByPath.containsKey(key)) return unitByPath.get(key);
            List<String> named = unitsByName.getOrDefault(key, List.of());
            if (named.size() == 1) return named.get(0);
            return Verdict.refused(
                    named.isEmpty()
                            ? "There is no unit \"" + text + "\"; write its id or its path."
                            : named.size() + " units are called \"" + text + "\"; write the path.");
        }

        Verdict person(Line line) {
            String id = line.get("id");
            String address = line.get("address", "username");
            if (id.isEmpty() && address.isEmpty()) return Verdict.refused("Neither an id nor an address stands there.");
            Optional<Account> known = id.isEmpty() ? addresses.one(address) : estate.account(id);
            if (known.isEmpty() && id.isEmpty() && addresses.of(address).size() > 1)
                return Verdict.refused("The address " + address + " belongs to more than one account; write the id.");
            Optional<Object> unit =
                    Optional.of(line.get("unit")).filter(u -> !u.isEmpty()).map(this::unitId);
            if (unit.isPresent() && unit.get() instanceof Verdict refused) return refused;
            ObjectNode members = Answers.object();
            put(members, "userName", address, known.map(Account::userName));
            put(members, "displayName", line.get("name", "displayname"), known.map(Account::displayName));
            put(
                    members,
                    "kind",
                    line.get("kind").toLowerCase(Locale.ROOT),
                    known.map(a -> a.kind().word()));
            unit.ifPresent(u -> put(members, "unit", (String) u, known.map(Account::unit)));
            String started = line.get("started");
            if (!started.isEmpty() && Instants.day(started).isEmpty())
                return Verdict.refused("\"" + started + "\" is no day; write it as 2026-11-23.");
            put(members, "started", started, known.flatMap(Account::started).map(Object::toString));
            String active = line.get("active").toLowerCase(Locale.ROOT);
            if (!active.isEmpty() && !Set.of("true", "false", "yes", "no").contains(active))
                return Verdict.refused("\"" + active + "\" in the column active is neither true nor false.");
            boolean isActive = active.equals("true") || active.equals("yes");
            if (!active.isEmpty() && known.map(Account::active).orElse(true) != isActive)
                members.put("active", isActive);
            String title = line.get("title");
            if (!title.isEmpty() && !known.flatMap(Account::title).equals(Optional.of(title)))
                members.putObject("attributes").put("title", title);
            String name = known.map(Account::displayName).orElse(line.get("name", "displayname"));
            if (known.isPresent()) return altered("account", known.get().id(), name, members);
            if (!members.has("unit")) return Verdict.refused("A new account needs a unit.");
            if (!members.has("displayName")) return Verdict.refused("A new account needs a name.");
            if (!members.has("kind")) members.put("kind", Kind.PERSON.word());
            if (!members.has("userName")) return Verdict.refused("A new account needs an address.");
            if (!id.isEmpty()) members.put("id", id);
            ObjectNode edit = Answers.object().put("kind", "add-account");
            edit.set("account", members);
            return new Verdict(
                    "new", name + " in " + book.placeName(members.get("unit").asText()), Optional.of(edit));
        }

        private static void put(ObjectNode members, String member, String value, Optional<String> is) {
            if (!value.isEmpty() && !is.equals(Optional.of(value))) members.put(member, value);
        }

        private static Verdict altered(String noun, String id, String name, ObjectNode members) {
            if (members.isEmpty()) return new Verdict("same", name, Optional.empty());
            ObjectNode edit = Answers.object().put("kind", "amend-" + noun).put(noun, id);
            edit.set("members", members);
            List<String> what = new ArrayList<>();
            members.properties().forEach(m -> what.add(told(m.getKey(), m.getValue())));
            return new Verdict("altered", name + ": " + String.join(", ", what), Optional.of(edit));
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

        Verdict unit(Line line) {
            String id = line.get("id");
            String name = line.get("name");
            Optional<Unit> known = estate.unit(id);
            Optional<Object> parent = Optional.of(line.get("parent", "above"))
                    .filter(p -> !p.isEmpty())
                    .map(this::unitId);
            if (parent.isPresent() && parent.get() instanceof Verdict refused) return refused;
            ObjectNode members = Answers.object();
            put(members, "name", name, known.map(Unit::name));
            parent.ifPresent(p -> put(members, "parent", (String) p, known.flatMap(Unit::parent)));
            if (known.isPresent()) return altered("unit", id, known.get().name(), members);
            if (name.isEmpty()) return Verdict.refused("A new unit needs a name.");
            if (parent.isEmpty()) return Verdict.refused("A new unit needs the unit above it in the column parent.");
            if (!id.isEmpty()) members.put("id", id);
            ObjectNode edit = Answers.object().put("kind", "add-unit");
            edit.set("unit", members);
            return new Verdict("new", name + " below " + book.placeName((String) parent.get()), Optional.of(edit));
        }

        Verdict member(Line line) {
            String named = line.get("group");
            if (named.isEmpty()) return Verdict.refused("No group stands there.");
            List<Group> groups = estate.group(named)
                    .map(List::of)
                    .orElse(groupsByName.getOrDefault(named.toLowerCase(Locale.ROOT), List.of()));
            if (groups.isEmpty()) return Verdict.refused("There is no group \"" + named + "\".");
            if (groups.size() > 1)
                return Verdict.refused(groups.size() + " groups are called \"" + named + "\"; write the id.");
            Group group = groups.get(0);
            String member = line.get("member", "address", "id");
            if (member.isEmpty()) return Verdict.refused("No member stands there.");
            List<Account> accounts = addresses.of(member);
            if (accounts.isEmpty()) return Verdict.refused("Nobody has the address, id or name \"" + member + "\".");
            if (accounts.size() > 1)
                return Verdict.refused(
                        "\"" + member + "\" can mean " + accounts.size() + " accounts; write the address.");
            Account account = accounts.get(0);
            if (group.members().accounts().contains(account.id()))
                return new Verdict("same", account.displayName() + " is in " + group.name(), Optional.empty());
            ObjectNode edit = Answers.object().put("kind", "put-members").put("group", group.id());
            edit.putArray("who").add("account:" + account.id());
            return new Verdict("new", account.displayName() + " joins " + group.name(), Optional.of(edit));
        }

        /** The verdict, unless its edit does not fit after those before it. */
        Verdict tried(Verdict verdict) {
            if (verdict.edit.isEmpty()) return verdict;
            Defects defects = new Defects();
            if (book.apply(new Place(verdict.edit.get(), "", defects)).isPresent()) return verdict;
            return Verdict.refused(defects.all().stream()
                    .map(d -> d.pointer().replaceAll(".*/", "") + " " + d.message())
                    .findFirst()
                    .map(t -> Character.toUpperCase(t.charAt(0)) + t.substring(1) + ".")
                    .orElse("It does not fit."));
        }
    }
}
