package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.IOException;
import java.text.Collator;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import leanladder.catalogue.Kind;
import leanladder.change.Book;
import leanladder.document.CodePointOrder;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Policy;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.estate.read.Section;
import leanladder.reach.Directory;
import org.roaringbitmap.RoaringBitmap;

/** Who and what there is: people, rooms, guests, services, groups, units and workspaces, as lists and one by one. */
record DirectoryRoutes(Estates estates) {
    private static final int SHOWN = 200;
    private static final int MOST = 1000;
    private static final Map<String, Kind> KINDS =
            Map.of("people", Kind.PERSON, "rooms", Kind.ROOM, "guests", Kind.GUEST, "services", Kind.SERVICE);

    /** Columns of a list: the heading, and what stands in it. */
    private record Listing<T>(
            List<T> rows, List<String> headings, Function<T, List<String>> cells, Function<T, ObjectNode> json) {}

    void list(Context ctx) throws IOException {
        Query query = new Query(
                ctx,
                estates.now(),
                Query.about("q", "unit", "group", "active", "purpose", "sort", "from", "count", "format"),
                Set.of());
        Present present = query.asked(estates).estate();
        String list = ctx.pathParam("list");
        List<String> words = Spelling.words(query.one("q").orElse(""));
        if (KINDS.containsKey(list))
            answer(
                    ctx,
                    query,
                    list,
                    present.kept(key(query, list), () -> accounts(present, query, KINDS.get(list), words)));
        else if (list.equals("groups")) answer(ctx, query, list, groups(present, query, words));
        else if (list.equals("units")) answer(ctx, query, list, units(present, query, words));
        else if (list.equals("workspaces")) answer(ctx, query, list, workspaces(present, words));
        else
            throw Problem.unknown("There is no list \"" + list
                    + "\"; there are people, rooms, guests, services, groups, units and workspaces.");
    }

    /** What a list of accounts depends on; its pages share it. */
    private static List<String> key(Query query, String list) {
        List<String> key = new ArrayList<>(List.of(list));
        for (String name : List.of("q", "unit", "group", "active", "sort"))
            key.add(query.one(name).orElse(""));
        return key;
    }

    private static <T> void answer(Context ctx, Query query, String list, Listing<T> listing) {
        if (query.isCsv()) {
            Csv csv = new Csv(ctx, list + ".csv", listing.headings.toArray(String[]::new));
            listing.rows.forEach(r -> csv.line(listing.cells.apply(r).toArray(String[]::new)));
            csv.end();
            return;
        }
        int from = query.one("from").isPresent() ? query.number("from", 1, Integer.MAX_VALUE) : 0;
        int count = query.number("count", SHOWN, MOST);
        ObjectNode told = Answers.object();
        told.put("total", listing.rows.size());
        ArrayNode rows = told.putArray("rows");
        if (from < listing.rows.size())
            listing.rows
                    .subList(from, Math.min(listing.rows.size(), from + count))
                    .forEach(r -> rows.add(listing.json.apply(r)));
        Answers.json(ctx, told);
    }

    private static boolean holds(List<String> words, String... texts) {
        if (words.isEmpty()) return true;
        String all = Spelling.plain(String.join(" ", texts));
        return words.stream().allMatch(all::contains);
    }

    private static <T> void sort(List<T> rows, Function<T, String> by) {
        Collator collator = Collator.getInstance(Locale.UK);
        rows.sort(Comparator.comparing(by, collator));
    }

    /** Sorts by texts of which there are few different ones, so that each is compared as a dictionary does but once. */
    private static <T> void sortByFew(List<T> rows, Function<T, String> by) {
        Comparator<String> dictionary = Collator.getInstance(Locale.UK)::compare;
        TreeMap<String, Integer> places = new TreeMap<>(dictionary.thenComparing(CodePointOrder.TEXTS));
        for (String text : rows.stream().map(by).collect(Collectors.toSet())) places.put(text, 0);
        int next = 0;
        for (Map.Entry<String, Integer> place : places.entrySet()) place.setValue(next++);
        Map<String, Integer> known = new HashMap<>(places);
        rows.sort(Comparator.comparingInt(r -> known.get(by.apply(r))));
    }

    private static Listing<Account> accounts(Present present, Query query, Kind kind, List<String> words) {
        Estate estate = present.ground().estate();
        Directory directory = present.ground().directory();
        RoaringBitmap among = directory.ofKind(kind).clone();
        query.one("unit")
                .ifPresent(u -> among.and(
                        directory.inOrBelow(found(estate.unit(u), "unit", u).id())));
        query.one("group")
                .ifPresent(g -> among.and(
                        directory.members(found(estate.group(g), "group", g).id())));
        query.one("active").ifPresent(a -> {
            if (a.equals("true")) among.and(directory.active());
            else among.andNot(directory.active());
        });
        // The list is kept, and its pages are told to several at once.
        Map<String, String> places = new ConcurrentHashMap<>();
        Function<Account, String> place = a -> places.computeIfAbsent(
                a.unit(), u -> RippleTelling.place(directory.tree().path(u)));
        List<Account> rows = directory.byName(among).stream()
                .filter(a -> words.isEmpty()
                        || holds(words, a.displayName(), a.userName(), a.title().orElse(""), place.apply(a)))
                .collect(Collectors.toCollection(ArrayList::new));
        switch (query.one("sort").orElse("name")) {
            case "name" -> {}
            case "address" -> rows.sort(Comparator.comparing(Account::userName, CodePointOrder.TEXTS));
            case "unit" -> sortByFew(rows, place);
            case "title" -> sortByFew(rows, a -> a.title().orElse(""));
            case "started" ->
                rows.sort(Comparator.comparing(
                        a -> a.started().map(Object::toString).orElse("")));
            default ->
                throw Problem.wrongInput("The parameter \"sort\" must be name, address, unit, title or started.");
        }
        return new Listing<>(
                rows,
                List.of("id", "address", "name", "kind", "unit", "title", "started", "active"),
                a -> List.of(
                        a.id(),
                        a.userName(),
                        a.displayName(),
                        a.kind().word(),
                        directory.tree().path(a.unit()).stream().map(Unit::name).collect(Collectors.joining(" / ")),
                        a.title().orElse(""),
                        a.started().map(Object::toString).orElse(""),
                        String.valueOf(a.active())),
                a -> Answers.object()
                        .put("id", a.id())
                        .put("name", a.displayName())
                        .put("address", a.userName())
                        .put("title", a.title().orElse(null))
                        .put("unit", place.apply(a))
                        .put("unitId", a.unit())
                        .put("started", a.started().map(Object::toString).orElse(null))
                        .put("active", a.active()));
    }

    private static <T> T found(Optional<T> part, String what, String id) {
        return part.orElseThrow(() -> Problem.unknown("There is no " + what + " \"" + id + "\"."));
    }

    private static Listing<Group> groups(Present present, Query query, List<String> words) {
        Estate estate = present.ground().estate();
        Directory directory = present.ground().directory();
        List<Group> rows = new ArrayList<>(estate.groups().stream()
                .filter(g -> query.one("purpose")
                        .map(p -> p.equals("access") == g.access())
                        .orElse(true))
                .filter(g -> holds(words, g.name()))
                .toList());
        sort(rows, Group::name);
        Function<Group, String> owners = g -> g.owners().stream()
                .map(o -> estate.account(o).map(Account::displayName).orElse(o))
                .collect(Collectors.joining(", "));
        Map<String, Long> policies = uses(estate, "group:");
        return new Listing<>(
                rows,
                List.of("id", "name", "purpose", "owners", "accounts", "policies"),
                g -> List.of(
                        g.id(),
                        g.name(),
                        g.access() ? "access" : "mailing",
                        owners.apply(g),
                        String.valueOf(active(directory, directory.members(g.id()))),
                        String.valueOf(policies.getOrDefault("group:" + g.id(), 0L))),
                g -> Answers.object()
                        .put("id", g.id())
                        .put("name", g.name())
                        .put("access", g.access())
                        .put("owners", owners.apply(g))
                        .put("accounts", active(directory, directory.members(g.id())))
                        .put("groups", g.members().groups().size())
                        .put("policies", policies.getOrDefault("group:" + g.id(), 0L)));
    }

    /** How many policies name each target that starts so. */
    private static Map<String, Long> uses(Estate estate, String prefix) {
        return estate.policies().stream()
                .flatMap(p -> p.assignments().stream()
                        .map(a -> a.target().text())
                        .filter(t -> t.startsWith(prefix))
                        .distinct())
                .collect(Collectors.groupingBy(t -> t, Collectors.counting()));
    }

    private static Listing<String> units(Present present, Query query, List<String> words) {
        Directory directory = present.ground().directory();
        Map<String, Long> policies = uses(present.ground().estate(), "unit:");
        List<String> rows = directory.tree().preorder().stream()
                .filter(u -> holds(words, RippleTelling.place(directory.tree().path(u))))
                .toList();
        Function<String, String> path =
                u -> directory.tree().path(u).stream().map(Unit::name).collect(Collectors.joining(" / "));
        return new Listing<>(
                rows,
                List.of("id", "name", "path", "accounts", "policies"),
                u -> List.of(
                        u,
                        directory.tree().unit(u).name(),
                        path.apply(u),
                        String.valueOf(active(directory, directory.inOrBelow(u))),
                        String.valueOf(policies.getOrDefault("unit:" + u, 0L))),
                u -> Answers.object()
                        .put("id", u)
                        .put("name", directory.tree().unit(u).name())
                        .put(
                                "above",
                                directory
                                        .tree()
                                        .unit(u)
                                        .parent()
                                        .map(p -> RippleTelling.place(
                                                directory.tree().path(p)))
                                        .orElse(""))
                        .put("depth", directory.tree().depth(u))
                        .put("accounts", active(directory, directory.inOrBelow(u)))
                        .put("policies", policies.getOrDefault("unit:" + u, 0L)));
    }

    private static Listing<Workspace> workspaces(Present present, List<String> words) {
        Estate estate = present.ground().estate();
        List<Workspace> rows = new ArrayList<>(
                estate.workspaces().stream().filter(w -> holds(words, w.name())).toList());
        sort(rows, Workspace::name);
        Function<Workspace, String> stewards = w -> w.stewards().stream()
                .map(o -> estate.account(o).map(Account::displayName).orElse(o))
                .collect(Collectors.joining(", "));
        return new Listing<>(
                rows,
                List.of("id", "name", "size", "trial", "stewards"),
                w -> List.of(w.id(), w.name(), w.size(), String.valueOf(w.trial()), stewards.apply(w)),
                w -> Answers.object()
                        .put("id", w.id())
                        .put("name", w.name())
                        .put("size", w.size())
                        .put("trial", w.trial())
                        .put("stewards", stewards.apply(w)));
    }

    /** One unit, group or account: what it is, what stands in it, what holds it and what uses it. */
    void one(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Query.about(), Set.of());
        Present present = query.asked(estates).estate();
        Estate estate = present.ground().estate();
        Directory directory = present.ground().directory();
        String id = ctx.pathParam("id");
        ObjectNode told = Answers.object().put("id", id);
        Section section;
        switch (ctx.pathParam("list")) {
            case "groups" -> {
                section = Section.GROUPS;
                group(told, found(estate.group(id), "group", id), estate, directory);
            }
            case "units" -> {
                section = Section.UNITS;
                unit(told, found(estate.unit(id), "unit", id), directory);
            }
            default -> {
                section = Section.ACCOUNTS;
                account(told, found(estate.account(id), "account", id), directory);
            }
        }
        ArrayNode users = told.putArray("usedBy");
        new Book(present.ground(), (s, k) -> Answers.object())
                .users(section, id)
                .forEach(users::add);
        ArrayNode policies = told.putArray("policies");
        String target = section.member().substring(0, section.member().length() - 1) + ":" + id;
        for (Policy policy : estate.policies())
            for (JsonNode assignment : policy.source().path("assignments")) {
                boolean include = assignment.path("include").asText().equals(target);
                if (!include && !assignment.path("except").asText().equals(target)) continue;
                policies.addObject()
                        .put("id", policy.id())
                        .put("name", policy.name())
                        .put("include", include)
                        .set("assignment", assignment);
            }
        Answers.json(ctx, told);
    }

    /** How many of a set are active: whom the other views count. */
    private static int active(Directory directory, RoaringBitmap set) {
        return RoaringBitmap.andCardinality(set, directory.active());
    }

    private static void counts(ObjectNode told, Directory directory, RoaringBitmap set) {
        int active = active(directory, set);
        told.put("accounts", active).put("inactive", set.getCardinality() - active);
    }

    private static void group(ObjectNode told, Group group, Estate estate, Directory directory) {
        told.put("name", group.name()).put("access", group.access());
        counts(told, directory, directory.members(group.id()));
        ArrayNode owners = told.putArray("owners");
        group.owners()
                .forEach(o -> owners.addObject()
                        .put("id", o)
                        .put("name", estate.account(o).map(Account::displayName).orElse(o)));
        ArrayNode inner = told.putArray("groups");
        group.members()
                .groups()
                .forEach(g -> inner.addObject()
                        .put("id", g)
                        .put("name", directory.group(g).name())
                        .put("accounts", active(directory, directory.members(g))));
        ArrayNode around = told.putArray("around");
        directory
                .groupsAround(group.id())
                .forEach(g -> around.addObject()
                        .put("id", g)
                        .put("name", directory.group(g).name())
                        .put("access", directory.group(g).access()));
        ArrayNode members = told.putArray("members");
        for (Account a : directory.byName(directory.members(group.id())).stream()
                .limit(MOST * 5L)
                .toList()) {
            boolean listed = directory.listedIn(group.id()).contains(directory.number(a.id()));
            members.addObject()
                    .put("id", a.id())
                    .put("name", a.displayName())
                    .put("address", a.userName())
                    .put("unit", RippleTelling.place(directory.tree().path(a.unit())))
                    .put("active", a.active())
                    .put("listed", listed)
                    .put(
                            "way",
                            listed
                                    ? "by name"
                                    : group.members().groups().stream()
                                            .filter(g -> directory.members(g).contains(directory.number(a.id())))
                                            .findFirst()
                                            .map(g -> "by " + directory.group(g).name())
                                            .orElse(""));
        }
    }

    private static void unit(ObjectNode told, Unit unit, Directory directory) {
        told.put("name", unit.name());
        ArrayNode path = told.putArray("path");
        directory
                .tree()
                .path(unit.id())
                .forEach(u -> path.addObject().put("id", u.id()).put("name", u.name()));
        counts(told, directory, directory.inOrBelow(unit.id()));
        told.put("direct", active(directory, directory.directlyIn(unit.id())));
        ArrayNode children = told.putArray("children");
        directory
                .tree()
                .children(unit.id())
                .forEach(c -> children.addObject()
                        .put("id", c.id())
                        .put("name", c.name())
                        .put("accounts", active(directory, directory.inOrBelow(c.id()))));
    }

    private static void account(ObjectNode told, Account account, Directory directory) {
        told.put("name", account.displayName())
                .put("address", account.userName())
                .put("kind", account.kind().word())
                .put("title", account.title().orElse(null))
                .put("started", account.started().map(Object::toString).orElse(null))
                .put("active", account.active());
        ArrayNode path = told.putArray("path");
        directory
                .tree()
                .path(account.unit())
                .forEach(u -> path.addObject().put("id", u.id()).put("name", u.name()));
        ArrayNode groups = told.putArray("groups");
        directory
                .groupsOf(account.id())
                .forEach(g -> groups.addObject()
                        .put("id", g)
                        .put("name", directory.group(g).name())
                        .put("access", directory.group(g).access()));
    }
}
