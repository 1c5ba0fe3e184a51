package leanladder.server.directory;

import java.text.Collator;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import leanladder.catalogue.AccountKind;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Hosting;
import leanladder.estate.Target;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.json.CodePointOrder;
import leanladder.reach.Directory;
import leanladder.server.http.ProblemException;
import leanladder.server.paging.AccountPage;
import leanladder.server.paging.SearchTokens;
import leanladder.server.state.DerivedIndex;
import leanladder.server.state.Snapshot;
import leanladder.workingcopy.WriteSet;
import org.roaringbitmap.RoaringBitmap;

/** The lists of the directory, as rows and as lines of comma-separated values. */
final class DirectoryTables {
    private DirectoryTables() {}

    /** A row of some list. */
    sealed interface Row permits AccountRow, GroupRow, UnitRow, WorkspaceRow, HostingRow {}

    /** An account in a list. @param unit with the one above it */
    record AccountRow(
            String id,
            String name,
            String address,
            Optional<String> title,
            String unit,
            String unitId,
            Optional<LocalDate> started,
            boolean active)
            implements Row {}

    /** A group in a list. @param owners by name @param accounts to any depth @param groups it lists @param policies that name it */
    record GroupRow(String id, String name, boolean access, String owners, int accounts, int groups, long policies)
            implements Row {}

    /** A unit in a list. @param above the unit above it @param accounts in it and below it @param policies that name it */
    record UnitRow(String id, String name, String above, int depth, int accounts, long policies) implements Row {}

    /** A workspace in a list. @param hosting the name of the one on which it runs with others @param size of what it runs on @param stewards by name @param accounts that work there @param policies that name it */
    record WorkspaceRow(
            String id,
            String name,
            Optional<String> hosting,
            String size,
            boolean trial,
            boolean running,
            String stewards,
            int accounts,
            long policies)
            implements Row {}

    /** A hosting in a list. @param workspaces that run on it @param keepers by name @param policies that name it */
    record HostingRow(
            String id,
            String name,
            String size,
            boolean trial,
            boolean running,
            long workspaces,
            String keepers,
            long policies)
            implements Row {}

    /** A list: its rows, and the columns of its comma-separated values. */
    record Listing<T>(List<T> rows, List<String> headings, Function<T, List<String>> cells, Function<T, Row> row) {}

    /**
     * Which accounts are listed, and in which order; its pages share the list.
     *
     * @param q words that narrow it, empty for none; likewise unit, group and active
     */
    record Accounts(AccountKind kind, String q, String unit, String group, String active, String sort)
            implements DerivedIndex<Listing<Account>> {
        private static final int ROWS_OF_ONE = 20_000;

        @Override
        public Listing<Account> compute(Snapshot snapshot) {
            return accounts(snapshot, this);
        }

        @Override
        public Optional<Listing<Account>> update(Listing<Account> before, Snapshot snapshot, WriteSet edits) {
            return edits.touchesDirectory() ? Optional.empty() : Optional.of(before);
        }

        @Override
        public int weight(Listing<Account> value) {
            return 1 + value.rows.size() / ROWS_OF_ONE;
        }
    }

    private static Listing<Account> accounts(Snapshot snapshot, Accounts which) {
        Directory directory = snapshot.directory();
        RoaringBitmap among = directory.ofKind(which.kind).clone();
        if (!which.unit.isEmpty()) among.and(directory.inOrBelow(which.unit));
        if (!which.group.isEmpty()) among.and(directory.members(which.group));
        if (which.active.equals("true")) among.and(directory.active());
        else if (!which.active.isEmpty()) among.andNot(directory.active());
        // The list is kept, and its pages are told to several at once.
        Map<String, String> places = new ConcurrentHashMap<>();
        Function<Account, String> place = a -> places.computeIfAbsent(a.unit(), u -> AccountPage.place(directory, u));
        Predicate<String> fits = SearchTokens.fitting(which.q);
        List<Account> rows = directory.byName(among).stream()
                .filter(a -> which.q.isEmpty()
                        || fits.test(String.join(
                                " ", a.displayName(), a.userName(), a.title().orElse(""), place.apply(a))))
                .collect(Collectors.toCollection(ArrayList::new));
        switch (which.sort) {
            case "name" -> {}
            case "address" -> rows.sort(Comparator.comparing(Account::userName, CodePointOrder.TEXTS));
            case "unit" -> sortByFew(rows, place);
            case "title" -> sortByFew(rows, a -> a.title().orElse(""));
            case "started" ->
                rows.sort(Comparator.comparing(
                        a -> a.started().map(Object::toString).orElse("")));
            default ->
                throw ProblemException.wrongInput(
                        "The parameter \"sort\" must be name, address, unit, title or started.");
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
                a -> new AccountRow(
                        a.id(),
                        a.displayName(),
                        a.userName(),
                        a.title(),
                        place.apply(a),
                        a.unit(),
                        a.started(),
                        a.active()));
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

    static Listing<Group> groups(Snapshot snapshot, Optional<String> purpose, String q) {
        Estate estate = snapshot.estate();
        Directory directory = snapshot.directory();
        Predicate<String> fits = SearchTokens.fitting(q);
        List<Group> rows = new ArrayList<>(estate.groups().stream()
                .filter(g -> purpose.map(p -> p.equals("access") == g.access()).orElse(true))
                .filter(g -> fits.test(g.name()))
                .toList());
        sort(rows, Group::name);
        Function<Group, String> owners = g -> names(estate, g.owners());
        Function<Group, Integer> accounts = g -> active(directory, directory.members(g.id()));
        Map<String, Long> policies = uses(estate, "group:");
        return new Listing<>(
                rows,
                List.of("id", "name", "purpose", "owners", "accounts", "policies"),
                g -> List.of(
                        g.id(),
                        g.name(),
                        g.access() ? "access" : "mailing",
                        owners.apply(g),
                        String.valueOf(accounts.apply(g)),
                        String.valueOf(policies.getOrDefault("group:" + g.id(), 0L))),
                g -> new GroupRow(
                        g.id(),
                        g.name(),
                        g.access(),
                        owners.apply(g),
                        accounts.apply(g),
                        g.members().groups().size(),
                        policies.getOrDefault("group:" + g.id(), 0L)));
    }

    private static String names(Estate estate, List<String> accounts) {
        return accounts.stream()
                .map(o -> estate.account(o).map(Account::displayName).orElse(o))
                .collect(Collectors.joining(", "));
    }

    /** How many policies name each target that starts so. */
    private static Map<String, Long> uses(Estate estate, String prefix) {
        return estate.policies().stream()
                .flatMap(p -> p.assignments().stream()
                        .flatMap(a -> Stream.concat(Stream.of(a.target()), a.in().stream()))
                        .map(Target::text)
                        .filter(t -> t.startsWith(prefix))
                        .distinct())
                .collect(Collectors.groupingBy(t -> t, Collectors.counting()));
    }

    static Listing<String> units(Snapshot snapshot, String q) {
        Directory directory = snapshot.directory();
        Map<String, Long> policies = uses(snapshot.estate(), "unit:");
        Predicate<String> fits = SearchTokens.fitting(q);
        List<String> rows = directory.tree().preorder().stream()
                .filter(u -> q.isEmpty() || fits.test(AccountPage.place(directory, u)))
                .toList();
        Function<String, String> path =
                u -> directory.tree().path(u).stream().map(Unit::name).collect(Collectors.joining(" / "));
        Function<String, Integer> accounts = u -> active(directory, directory.inOrBelow(u));
        return new Listing<>(
                rows,
                List.of("id", "name", "path", "accounts", "policies"),
                u -> List.of(
                        u,
                        directory.tree().unit(u).name(),
                        path.apply(u),
                        String.valueOf(accounts.apply(u)),
                        String.valueOf(policies.getOrDefault("unit:" + u, 0L))),
                u -> new UnitRow(
                        u,
                        directory.tree().unit(u).name(),
                        directory
                                .tree()
                                .unit(u)
                                .parent()
                                .map(p -> AccountPage.place(directory, p))
                                .orElse(""),
                        directory.tree().depth(u),
                        accounts.apply(u),
                        policies.getOrDefault("unit:" + u, 0L)));
    }

    static Listing<Workspace> workspaces(Snapshot snapshot, String q) {
        Estate estate = snapshot.estate();
        Predicate<String> fits = SearchTokens.fitting(q);
        List<Workspace> rows = new ArrayList<>(
                estate.workspaces().stream().filter(w -> fits.test(w.name())).toList());
        sort(rows, Workspace::name);
        Directory directory = snapshot.directory();
        Function<Workspace, Integer> accounts = w -> active(directory, directory.holding(w.members()));
        Map<String, Long> policies = uses(estate, "workspace:");
        return new Listing<>(
                rows,
                List.of("id", "name", "hosting", "size", "trial", "state", "stewards", "accounts", "policies"),
                w -> List.of(
                        w.id(),
                        w.name(),
                        shared(estate, w).map(Hosting::name).orElse(""),
                        estate.hostingOf(w).size(),
                        String.valueOf(estate.hostingOf(w).trial()),
                        state(estate.hostingOf(w)),
                        names(estate, w.stewards()),
                        String.valueOf(accounts.apply(w)),
                        String.valueOf(policies.getOrDefault("workspace:" + w.id(), 0L))),
                w -> new WorkspaceRow(
                        w.id(),
                        w.name(),
                        shared(estate, w).map(Hosting::name),
                        estate.hostingOf(w).size(),
                        estate.hostingOf(w).trial(),
                        estate.hostingOf(w).running(),
                        names(estate, w.stewards()),
                        accounts.apply(w),
                        policies.getOrDefault("workspace:" + w.id(), 0L)));
    }

    /** The hosting on which a workspace runs with others. */
    static Optional<Hosting> shared(Estate estate, Workspace workspace) {
        return workspace.hosting().flatMap(estate::hosting);
    }

    private static String state(Hosting hosting) {
        return hosting.running() ? "running" : "paused";
    }

    static Listing<Hosting> hostings(Snapshot snapshot, String q) {
        Estate estate = snapshot.estate();
        Predicate<String> fits = SearchTokens.fitting(q);
        List<Hosting> rows = new ArrayList<>(
                estate.hostings().stream().filter(h -> fits.test(h.name())).toList());
        sort(rows, Hosting::name);
        Map<String, Long> policies = uses(estate, "hosting:");
        Map<String, Long> workspaces = estate.workspaces().stream()
                .flatMap(w -> w.hosting().stream())
                .collect(Collectors.groupingBy(h -> h, Collectors.counting()));
        return new Listing<>(
                rows,
                List.of("id", "name", "size", "trial", "state", "workspaces", "keepers", "policies"),
                h -> List.of(
                        h.id(),
                        h.name(),
                        h.size(),
                        String.valueOf(h.trial()),
                        state(h),
                        String.valueOf(workspaces.getOrDefault(h.id(), 0L)),
                        names(estate, h.keepers()),
                        String.valueOf(policies.getOrDefault("hosting:" + h.id(), 0L))),
                h -> new HostingRow(
                        h.id(),
                        h.name(),
                        h.size(),
                        h.trial(),
                        h.running(),
                        workspaces.getOrDefault(h.id(), 0L),
                        names(estate, h.keepers()),
                        policies.getOrDefault("hosting:" + h.id(), 0L)));
    }

    /** How many of a set are active: whom the other views count. */
    static int active(Directory directory, RoaringBitmap set) {
        return RoaringBitmap.andCardinality(set, directory.active());
    }
}
