package leanladder.server;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import leanladder.catalogue.Setting;
import leanladder.document.CodePointOrder;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Policy;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.reach.UnitTree;

/**
 * Finds accounts, units, groups, workspaces, settings and policies by the words that people use, forgiving typing errors; each
 * kind stands on a {@link Shelf} of its own.
 */
final class SearchIndex {
    /** What can be found. */
    enum Kind {
        ACCOUNT,
        UNIT,
        GROUP,
        WORKSPACE,
        SETTING,
        POLICY;

        String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * Something found.
     *
     * @param context a few words that tell it from others of the same name
     */
    record Hit(Kind kind, String id, String title, String context, double score) {}

    /** A question as it was typed, read as a person or a place and a setting. */
    record Reading(Hit who, Hit what) {}

    private static final Set<String> FILLERS = Set.of(
            "may", "can", "could", "why", "why's", "not", "and", "is", "are", "the", "a", "an", "for", "of", "in", "on",
            "to", "does", "do", "has", "have", "what", "who", "how");
    private static final int READINGS = 5;
    private static final int UNITS_TOLD = 4;
    private static final int EDITED_MOST = 2000;
    private static final Comparator<Hit> ALIKE =
            Comparator.comparing(Hit::title).thenComparing(Hit::id, CodePointOrder.TEXTS);

    private final UnitTree tree;
    private final Map<String, String> apps;
    private final Shelf<Account> accounts;
    /** Accounts that are others than on the shelf of all, or new; and the ids of those that it does not count any more. */
    private final Shelf<Account> edited;

    private final Set<String> gone;
    private final Shelf<Unit> units;
    private final Shelf<Group> groups;
    private final Shelf<Workspace> workspaces;
    private final Shelf<Setting> settings;
    private final Shelf<Policy> policies;

    SearchIndex(Estate estate) {
        this(estate, Optional.empty());
    }

    /**
     * What can be found in the estate after edits. Shelves on which nothing changed are shared; accounts that changed stand on one
     * of their own until they are many, so that an edit of one does not cost a look at all their words.
     */
    SearchIndex after(Estate estate) {
        return new SearchIndex(estate, Optional.of(this));
    }

    private SearchIndex(Estate estate, Optional<SearchIndex> before) {
        tree = new UnitTree(estate.units());
        apps = estate.catalogue().apps();
        units = shelf(before.map(b -> b.units), estate.units(), this::fields);
        groups = shelf(before.map(b -> b.groups), estate.groups(), g -> List.of(field(g.name(), 10)));
        workspaces = shelf(before.map(b -> b.workspaces), estate.workspaces(), w -> List.of(field(w.name(), 10)));
        settings = shelf(
                before.map(b -> b.settings),
                List.copyOf(estate.catalogue().settings().values()),
                this::fields);
        policies = shelf(before.map(b -> b.policies), estate.policies(), p -> List.of(field(p.name(), 10)));
        Set<String> old = new HashSet<>();
        List<Account> fresh = new ArrayList<>();
        Optional<Shelf<Account>> all = before.map(b -> b.accounts);
        all.ifPresent(shelf -> differences(shelf.parts(), estate.accounts(), old, fresh));
        if (all.isEmpty()
                || old.size() + fresh.size() > EDITED_MOST + estate.accounts().size() / 10) {
            accounts = new Shelf<>(estate.accounts(), this::fields);
            edited = new Shelf<>(List.of(), this::fields);
            gone = Set.of();
        } else {
            accounts = all.get();
            edited = new Shelf<>(fresh, this::fields);
            gone = old;
        }
    }

    private static <T> Shelf<T> shelf(Optional<Shelf<T>> before, List<T> parts, Function<T, List<Shelf.Field>> fields) {
        return before.filter(b -> b.parts().equals(parts)).orElseGet(() -> new Shelf<>(parts, fields));
    }

    /** Walks two lists in the order of their ids; an account that nobody edited is the same object in both. */
    private static void differences(List<Account> was, List<Account> is, Set<String> gone, List<Account> fresh) {
        if (was == is) return;
        int i = 0;
        int j = 0;
        while (i < was.size() || j < is.size()) {
            int order = i == was.size()
                    ? 1
                    : j == is.size()
                            ? -1
                            : CodePointOrder.TEXTS.compare(
                                    was.get(i).id(), is.get(j).id());
            if (order == 0 && was.get(i) != is.get(j) || order < 0)
                gone.add(was.get(i).id());
            if (order == 0 && was.get(i) != is.get(j) || order > 0) fresh.add(is.get(j));
            if (order <= 0) i++;
            if (order >= 0) j++;
        }
    }

    private List<Shelf.Field> fields(Account a) {
        return List.of(
                field(a.displayName(), 10),
                field(a.userName(), 7),
                field(a.title().orElse(""), 4),
                field(path(a.unit()), 3));
    }

    private List<Shelf.Field> fields(Unit u) {
        return List.of(field(u.name(), 10), field(u.parent().map(this::path).orElse(""), 5));
    }

    private List<Shelf.Field> fields(Setting s) {
        List<Shelf.Field> fields = new ArrayList<>(List.of(field(s.title(), 10), field(s.key(), 8), field(app(s), 6)));
        s.source().path("words").forEach(w -> fields.add(field(w.asText(), 8)));
        return fields;
    }

    private static Shelf.Field field(String text, int tenths) {
        return new Shelf.Field(text, tenths);
    }

    private String app(Setting setting) {
        return setting.app().map(apps::get).orElse("");
    }

    /** The lowest units of a path, the organisation aside; a deep tree does not make long texts. */
    private String path(String unit) {
        List<String> names = new ArrayList<>();
        for (Unit u = tree.unit(unit);
                names.size() < UNITS_TOLD;
                u = tree.unit(u.parent().get())) {
            if (u.parent().isEmpty()) {
                if (names.isEmpty()) names.add(u.name());
                break;
            }
            names.add(0, u.name());
        }
        return String.join(" › ", names);
    }

    /** What fits all words of the text, best first; of an empty text, nothing. */
    List<Hit> find(String text, Set<Kind> kinds, int most) {
        return find(Spelling.words(text), kinds, most);
    }

    private List<Hit> find(List<String> asked, Set<Kind> kinds, int most) {
        List<Hit> hits = new ArrayList<>();
        for (Kind kind : kinds)
            switch (kind) {
                case ACCOUNT -> {
                    add(hits, accounts, asked, most, a -> !gone.contains(a.id()), this::hit);
                    add(hits, edited, asked, most, a -> true, this::hit);
                }
                case UNIT -> add(hits, units, asked, most, u -> true, this::hit);
                case GROUP -> add(hits, groups, asked, most, g -> true, SearchIndex::hit);
                case WORKSPACE -> add(hits, workspaces, asked, most, w -> true, SearchIndex::hit);
                case SETTING -> add(hits, settings, asked, most, s -> true, this::hit);
                case POLICY -> add(hits, policies, asked, most, p -> true, SearchIndex::hit);
                default -> throw new IllegalStateException("No shelf for " + kind);
            }
        hits.sort(Comparator.comparingDouble(Hit::score).reversed().thenComparing(ALIKE));
        return hits.subList(0, Math.min(most, hits.size()));
    }

    private static <T> void add(
            List<Hit> hits, Shelf<T> shelf, List<String> asked, int most, Predicate<T> counts, Function<T, Hit> hit) {
        for (Shelf.Found<T> found :
                shelf.find(asked, most, counts, (a, b) -> ALIKE.compare(hit.apply(a), hit.apply(b)))) {
            Hit made = hit.apply(found.part());
            hits.add(new Hit(made.kind, made.id, made.title, made.context, found.score()));
        }
    }

    private Hit hit(Account a) {
        String context = (a.active() ? "" : "inactive · ")
                + a.title().map(t -> t + " · ").orElse("")
                + path(a.unit());
        return new Hit(Kind.ACCOUNT, a.id(), a.displayName(), context, 0);
    }

    private Hit hit(Unit u) {
        return new Hit(Kind.UNIT, u.id(), u.name(), u.parent().map(this::path).orElse("the whole organisation"), 0);
    }

    private static Hit hit(Group g) {
        return new Hit(Kind.GROUP, g.id(), g.name(), g.access() ? "access group" : "mailing group", 0);
    }

    private static Hit hit(Workspace w) {
        String context = "workspace, size " + w.size() + (w.trial() ? ", on trial" : "");
        return new Hit(Kind.WORKSPACE, w.id(), w.name(), context, 0);
    }

    private Hit hit(Setting s) {
        return new Hit(Kind.SETTING, s.key(), s.title(), app(s), 0);
    }

    private static Hit hit(Policy p) {
        return new Hit(Kind.POLICY, p.id(), p.name(), p.live() ? "policy" : "policy, paused", 0);
    }

    /** Reads free typing such as "mirela private chat" as whom it is about and what is asked. */
    List<Reading> readings(String text) {
        List<String> asked =
                Spelling.words(text).stream().filter(w -> !FILLERS.contains(w)).toList();
        Set<Kind> who = Set.of(Kind.ACCOUNT);
        List<Reading> readings = new ArrayList<>();
        for (int cut = 1; cut < asked.size(); cut++) {
            List<String> left = asked.subList(0, cut);
            List<String> right = asked.subList(cut, asked.size());
            pair(find(left, who, 2), find(right, Set.of(Kind.SETTING), 2), readings);
            pair(find(right, who, 2), find(left, Set.of(Kind.SETTING), 2), readings);
        }
        return readings.stream()
                .sorted(Comparator.comparingDouble((Reading r) -> r.who.score + r.what.score)
                        .reversed())
                .distinct()
                .limit(READINGS)
                .toList();
    }

    private static void pair(List<Hit> who, List<Hit> what, List<Reading> into) {
        for (Hit a : who) for (Hit b : what) into.add(new Reading(a, b));
    }
}
