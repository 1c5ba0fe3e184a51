package leanladder.server.search;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Hosting;
import leanladder.estate.Plan;
import leanladder.estate.Policy;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.json.CodePointOrder;
import leanladder.reach.UnitTree;
import leanladder.server.paging.FuzzyMatcher;
import leanladder.workingcopy.WriteSet;

/**
 * Finds accounts, units, groups, workspaces, hostings, settings, policies and licence plans by the words that people use, forgiving typing errors; each
 * kind stands on a {@link FuzzyIndex} of its own. What is looked for costs in proportion to its words.
 */
public final class SearchIndex {
    /** What can be found. */
    public enum HitKind {
        EVERYONE,
        ACCOUNT,
        UNIT,
        GROUP,
        WORKSPACE,
        HOSTING,
        SETTING,
        POLICY,
        PLAN
    }

    /**
     * Something found.
     *
     * @param context a few words that tell it from others of the same name
     */
    record Hit(HitKind kind, String id, String title, String context, double score) {}

    /** A question as it was typed, read as whom it is about and what is asked. */
    record QueryInterpretation(Hit who, Hit what) {
        double score() {
            return who.score + what.score;
        }
    }

    private static final Set<String> FILLERS = Set.of(
            "may", "can", "could", "why", "why's", "not", "and", "is", "are", "the", "a", "an", "for", "of", "in", "on",
            "to", "does", "do", "has", "have", "what", "who", "how");
    private static final Set<String> EVERYONE = Set.of("everyone", "everybody", "all", "anyone", "anybody");
    private static final int READINGS = 5;
    private static final int PAIRED = 2;
    private static final int UNITS_TOLD = 4;
    private static final int EDITED_MOST = 2000;
    /** A name that is typed whole goes before what merely has its words in some place. */
    private static final double WHOLE_NAME = 0.5;

    private static final Comparator<Hit> ALIKE = alike(Hit::title, Hit::id);
    private static final Comparator<Account> ACCOUNTS = alike(Account::displayName, Account::id);
    private static final Comparator<Unit> UNITS = alike(Unit::name, Unit::id);
    private static final Comparator<Group> GROUPS = alike(Group::name, Group::id);
    private static final Comparator<Workspace> WORKSPACES = alike(Workspace::name, Workspace::id);
    private static final Comparator<Hosting> HOSTINGS = alike(Hosting::name, Hosting::id);
    private static final Comparator<Setting> SETTINGS = alike(Setting::title, Setting::key);
    private static final Comparator<Policy> POLICIES = alike(Policy::name, Policy::id);
    private static final Comparator<Plan> PLANS = alike(Plan::name, Plan::id);
    private static final Comparator<Hit> BEST =
            Comparator.comparingDouble(Hit::score).reversed().thenComparing(ALIKE);

    private static <T> Comparator<T> alike(Function<T, String> title, Function<T, String> id) {
        return Comparator.comparing(title).thenComparing(id, CodePointOrder.TEXTS);
    }

    private final Estate estate;
    private final String organisation;
    private final UnitTree tree;
    private final Map<String, String> apps;
    private final FuzzyIndex<Account> accounts;
    /** Accounts that are others than in the index of all, or new; and the ids of those that it does not count any more. */
    private final FuzzyIndex<Account> edited;

    private final Set<String> gone;
    private final FuzzyIndex<Unit> units;
    private final FuzzyIndex<Group> groups;
    private final FuzzyIndex<Workspace> workspaces;
    private final FuzzyIndex<Hosting> hostings;
    private final FuzzyIndex<Setting> settings;
    /** Settings by the words of their titles, and of each other phrase that people use for them. */
    private final Map<List<String>, List<Setting>> phrases;

    private final FuzzyIndex<Policy> policies;
    private final FuzzyIndex<Plan> plans;

    /** Indexes a whole estate; linear in its words. */
    SearchIndex(Estate estate) {
        this.estate = estate;
        organisation = estate.organisation().name();
        tree = new UnitTree(estate.units());
        apps = estate.catalogue().apps();
        accounts = new FuzzyIndex<>(estate.accounts(), ACCOUNTS, this::fields);
        edited = new FuzzyIndex<>(List.of(), ACCOUNTS, this::fields);
        gone = Set.of();
        units = new FuzzyIndex<>(estate.units(), UNITS, this::fields);
        groups = new FuzzyIndex<>(estate.groups(), GROUPS, g -> List.of(field(g.name(), 10)));
        workspaces = workspaces(estate);
        hostings = hostings(estate);
        settings = settings(estate);
        phrases = phrases(estate);
        policies = policies(estate);
        plans = plans(estate);
    }

    private SearchIndex(SearchIndex before, Estate estate, WriteSet edits, Set<String> altered) {
        this.estate = estate;
        organisation = before.organisation;
        tree = edits.units().isEmpty() ? before.tree : new UnitTree(estate.units());
        apps = estate.catalogue().apps();
        accounts = before.accounts;
        if (altered.isEmpty()) {
            edited = before.edited;
            gone = before.gone;
        } else {
            Map<String, Account> fresh = new HashMap<>();
            before.edited.parts().forEach(a -> fresh.put(a.id(), a));
            Set<String> all = new HashSet<>(before.gone);
            for (String id : altered) {
                all.add(id);
                fresh.remove(id);
                estate.account(id).ifPresent(a -> fresh.put(id, a));
            }
            edited = new FuzzyIndex<>(fresh.values(), ACCOUNTS, this::fields);
            gone = all;
        }
        units = edits.units().isEmpty() ? before.units : new FuzzyIndex<>(estate.units(), UNITS, this::fields);
        groups = edits.groups().isEmpty()
                ? before.groups
                : new FuzzyIndex<>(estate.groups(), GROUPS, g -> List.of(field(g.name(), 10)));
        workspaces = edits.workspaces().isEmpty() ? before.workspaces : workspaces(estate);
        hostings = edits.hostings().isEmpty() ? before.hostings : hostings(estate);
        boolean same = edits.catalogue().isEmpty() && !edits.frame();
        settings = same ? before.settings : settings(estate);
        phrases = same ? before.phrases : phrases(estate);
        policies = edits.policies().isEmpty() ? before.policies : policies(estate);
        plans = edits.plans().isEmpty() ? before.plans : plans(estate);
    }

    /**
     * What can be found in the estate after edits. Shelves on which nothing changed are shared; accounts that changed stand on one
     * of their own. Empty when these have become so many that all are better put in order anew.
     */
    Optional<SearchIndex> update(Estate after, WriteSet edits) {
        Set<String> altered = altered(after, edits);
        boolean many =
                gone.size() + altered.size() > EDITED_MOST + after.accounts().size() / 10;
        return many ? Optional.empty() : Optional.of(new SearchIndex(this, after, edits, altered));
    }

    /** Accounts that are found by something else than before, or found for the first time or no more. */
    private Set<String> altered(Estate after, WriteSet edits) {
        Set<String> altered = withOtherPath(after, edits);
        for (String id : edits.accounts()) {
            Optional<Account> was = estate.account(id);
            Optional<Account> is = after.account(id);
            if (was.isEmpty() || is.isEmpty() ? was.isPresent() != is.isPresent() : !isFoundAlike(was.get(), is.get()))
                altered.add(id);
        }
        return altered;
    }

    /** Accounts in or below units that have another name or parent. Linear in all accounts where there is such a unit. */
    private Set<String> withOtherPath(Estate after, WriteSet edits) {
        Set<String> units = new HashSet<>();
        for (String id : edits.units()) {
            Optional<Unit> was = estate.unit(id);
            if (was.isPresent() && !was.equals(after.unit(id))) units.add(id);
        }
        Set<String> accounts = new HashSet<>();
        if (units.isEmpty()) return accounts;
        UnitTree now = new UnitTree(after.units());
        Set<String> below = new HashSet<>();
        for (String unit : now.preorder())
            if (units.contains(unit)
                    || now.unit(unit).parent().filter(below::contains).isPresent()) below.add(unit);
        for (Account account : after.accounts()) if (below.contains(account.unit())) accounts.add(account.id());
        return accounts;
    }

    private static boolean isFoundAlike(Account was, Account is) {
        return was.displayName().equals(is.displayName())
                && was.userName().equals(is.userName())
                && was.title().equals(is.title())
                && was.unit().equals(is.unit())
                && was.kind() == is.kind()
                && was.active() == is.active();
    }

    private FuzzyIndex<Setting> settings(Estate estate) {
        return new FuzzyIndex<>(estate.catalogue().settings().values(), SETTINGS, this::fields);
    }

    private static FuzzyIndex<Workspace> workspaces(Estate estate) {
        return new FuzzyIndex<>(estate.workspaces(), WORKSPACES, w -> List.of(field(w.name(), 10)));
    }

    private static FuzzyIndex<Hosting> hostings(Estate estate) {
        return new FuzzyIndex<>(estate.hostings(), HOSTINGS, h -> List.of(field(h.name(), 10)));
    }

    private static FuzzyIndex<Plan> plans(Estate estate) {
        return new FuzzyIndex<>(estate.plans(), PLANS, p -> List.of(field(p.name(), 10)));
    }

    private static Map<List<String>, List<Setting>> phrases(Estate estate) {
        Map<List<String>, List<Setting>> phrases = new HashMap<>();
        for (Setting setting : estate.catalogue().settings().values()) {
            Set<List<String>> own = new HashSet<>(Set.of(FuzzyMatcher.words(setting.title())));
            setting.source().path("words").forEach(w -> own.add(FuzzyMatcher.words(w.asText())));
            for (List<String> phrase : own)
                phrases.computeIfAbsent(phrase, p -> new ArrayList<>()).add(setting);
        }
        return phrases;
    }

    private static FuzzyIndex<Policy> policies(Estate estate) {
        return new FuzzyIndex<>(estate.policies(), POLICIES, p -> List.of(field(p.name(), 10)));
    }

    private List<FuzzyIndex.Field> fields(Account a) {
        return List.of(
                field(a.displayName(), 10),
                field(a.userName(), 7),
                field(a.title().orElse(""), 4),
                field(path(a.unit()), 3));
    }

    private List<FuzzyIndex.Field> fields(Unit u) {
        return List.of(field(u.name(), 10), field(u.parent().map(this::path).orElse(""), 5));
    }

    private List<FuzzyIndex.Field> fields(Setting s) {
        List<FuzzyIndex.Field> fields =
                new ArrayList<>(List.of(field(s.title(), 10), field(s.key(), 8), field(app(s), 6)));
        s.source().path("words").forEach(w -> fields.add(field(w.asText(), 8)));
        return fields;
    }

    private static FuzzyIndex.Field field(String text, int tenths) {
        return new FuzzyIndex.Field(text, tenths);
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

    /** Starts a search; what is found out about a word is kept for as long as the search lasts. */
    Search search() {
        return new Search();
    }

    /** What fits all words, best first; of no words, nothing. */
    List<Hit> find(List<String> asked, Set<HitKind> kinds, int most) {
        return search().find(asked, kinds, most);
    }

    /** See {@link Search#readings}. */
    List<QueryInterpretation> readings(List<String> typed) {
        return search().readings(typed);
    }

    private static List<QueryInterpretation> readings(List<String> typed, Search search) {
        List<String> asked = typed.stream().filter(w -> !FILLERS.contains(w)).toList();
        Set<HitKind> who = Set.of(HitKind.EVERYONE, HitKind.ACCOUNT, HitKind.UNIT, HitKind.GROUP);
        Set<HitKind> what = Set.of(HitKind.SETTING);
        List<QueryInterpretation> readings = new ArrayList<>();
        for (int cut = 1; cut < asked.size(); cut++) {
            List<String> left = asked.subList(0, cut);
            List<String> right = asked.subList(cut, asked.size());
            pair(search.find(left, who, PAIRED), search.find(right, what, PAIRED), readings);
            pair(search.find(right, who, PAIRED), search.find(left, what, PAIRED), readings);
        }
        return readings.stream()
                .sorted(Comparator.comparingDouble(QueryInterpretation::score)
                        .reversed()
                        .thenComparing(r -> r.who, ALIKE)
                        .thenComparing(r -> r.what, ALIKE))
                .distinct()
                .limit(READINGS)
                .toList();
    }

    private static void pair(List<Hit> who, List<Hit> what, List<QueryInterpretation> into) {
        for (Hit a : who) for (Hit b : what) into.add(new QueryInterpretation(a, b));
    }

    /** One search over all indexes. Not safe for use by several threads. */
    final class Search {
        private final Map<FuzzyIndex<?>, FuzzyIndex<?>.Search> open = new HashMap<>();

        /** Reads free typing such as "mirela private chat" or "captions fleet" as whom it is about and what is asked. */
        List<QueryInterpretation> readings(List<String> typed) {
            return SearchIndex.readings(typed, this);
        }

        /** What fits all words, best first; of no words, nothing. */
        List<Hit> find(List<String> asked, Set<HitKind> kinds, int most) {
            List<Hit> hits = new ArrayList<>();
            if (asked.isEmpty()) return hits;
            for (HitKind kind : kinds)
                switch (kind) {
                    case EVERYONE -> everyone(asked).ifPresent(hits::add);
                    case ACCOUNT -> {
                        add(hits, accounts, asked, most, a -> !gone.contains(a.id()), SearchIndex.this::hit);
                        add(hits, edited, asked, most, a -> true, SearchIndex.this::hit);
                    }
                    case UNIT -> add(hits, units, asked, most, u -> true, SearchIndex.this::hit);
                    case GROUP -> add(hits, groups, asked, most, g -> true, SearchIndex::hit);
                    case WORKSPACE -> add(hits, workspaces, asked, most, w -> true, SearchIndex.this::hit);
                    case HOSTING -> add(hits, hostings, asked, most, h -> true, SearchIndex::hit);
                    case SETTING -> {
                        // What is typed is the whole phrase: these go first, however many others have its words.
                        List<Setting> exact = phrases.getOrDefault(asked, List.of());
                        for (Setting setting : exact) hits.add(scored(hit(setting), 1 + WHOLE_NAME));
                        add(hits, settings, asked, most, s -> !exact.contains(s), SearchIndex.this::hit);
                    }
                    case POLICY -> add(hits, policies, asked, most, p -> true, SearchIndex::hit);
                    case PLAN -> add(hits, plans, asked, most, p -> true, SearchIndex::hit);
                    default -> throw new IllegalStateException("No shelf for " + kind);
                }
            hits.sort(BEST);
            return hits.subList(0, Math.min(most, hits.size()));
        }

        @SuppressWarnings("unchecked")
        private <T> void add(
                List<Hit> hits,
                FuzzyIndex<T> fuzzyIndex,
                List<String> asked,
                int most,
                Predicate<T> counts,
                Function<T, Hit> hit) {
            FuzzyIndex<T>.Search search = (FuzzyIndex<T>.Search) open.computeIfAbsent(fuzzyIndex, s -> s.search());
            for (FuzzyIndex.FuzzyResult<T> fuzzyResult : search.find(asked, most, counts)) {
                Hit made = hit.apply(fuzzyResult.part());
                boolean placeOrGroup = made.kind == HitKind.UNIT || made.kind == HitKind.GROUP;
                boolean whole = placeOrGroup && FuzzyMatcher.words(made.title).equals(asked);
                hits.add(scored(made, fuzzyResult.score() + (whole ? WHOLE_NAME : 0)));
            }
        }

        private static Hit scored(Hit hit, double score) {
            return new Hit(hit.kind, hit.id, hit.title, hit.context, score);
        }
    }

    /** Everyone, where a word for it is typed, or the name of the organisation. */
    private Optional<Hit> everyone(List<String> asked) {
        boolean meant = asked.size() == 1 && EVERYONE.contains(asked.get(0))
                || FuzzyMatcher.words(organisation).equals(asked);
        return meant
                ? Optional.of(new Hit(HitKind.EVERYONE, "everyone", "Everyone", organisation, 1.1 + WHOLE_NAME))
                : Optional.empty();
    }

    private Hit hit(Account a) {
        String context = (a.active() ? "" : "inactive · ")
                + a.title().map(t -> t + " · ").orElse("")
                + path(a.unit());
        return new Hit(HitKind.ACCOUNT, a.id(), a.displayName(), context, 0);
    }

    private Hit hit(Unit u) {
        return new Hit(
                HitKind.UNIT, u.id(), u.name(), u.parent().map(this::path).orElse("the whole organisation"), 0);
    }

    private static Hit hit(Group g) {
        return new Hit(HitKind.GROUP, g.id(), g.name(), g.access() ? "access group" : "mailing group", 0);
    }

    private Hit hit(Workspace w) {
        String context = w.hosting()
                .flatMap(estate::hosting)
                .map(hosting -> "workspace on " + hosting.name())
                .orElseGet(() -> "workspace, " + size(w.size().orElse(""), w.trial()));
        return new Hit(HitKind.WORKSPACE, w.id(), w.name(), context, 0);
    }

    private static Hit hit(Hosting h) {
        return new Hit(HitKind.HOSTING, h.id(), h.name(), "hosting, " + size(h.size(), h.trial()), 0);
    }

    private static String size(String size, boolean trial) {
        return "size " + size + (trial ? ", on trial" : "");
    }

    private Hit hit(Setting s) {
        return new Hit(HitKind.SETTING, s.key(), s.title(), app(s), 0);
    }

    private static Hit hit(Plan p) {
        return new Hit(HitKind.PLAN, p.id(), p.name(), "licence plan", 0);
    }

    private static Hit hit(Policy p) {
        return new Hit(HitKind.POLICY, p.id(), p.name(), p.live() ? "policy" : "policy, paused", 0);
    }
}
