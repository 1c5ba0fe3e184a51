package leanladder.server.logbook;

import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Hosting;
import leanladder.estate.Plan;
import leanladder.estate.Policy;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.EvaluationContext;
import leanladder.server.http.QueryParameters;
import leanladder.server.state.Snapshot;
import leanladder.server.state.Timeline;
import leanladder.store.Store;
import leanladder.store.journal.Change;
import leanladder.store.journal.ChangeFilter;
import leanladder.store.journal.ChangeSubjects;
import leanladder.store.journal.Journal;

/** Finds changes in the logbook: by author, period, text and kind, and by the settings, policies, people and so on that they are about. */
final class LogbookFilter {
    /** What a change can be asked to be about, by the noun that {@link ChangeSubjects} uses. */
    private static final List<String> NOUNS =
            List.of("setting", "policy", "group", "unit", "plan", "workspace", "hosting");

    /** The kinds of change. */
    private static final List<String> KINDS =
            List.of("policies", "catalogue", "directory", "seats", "previews", "own_word", "automatic");

    static final Set<String> PARAMETERS;

    static {
        Set<String> parameters = new HashSet<>(NOUNS);
        parameters.addAll(Set.of("author", "text", "from", "to", "app", "kind", "account"));
        PARAMETERS = Set.copyOf(parameters);
    }

    /** How many changes are read from the journal at once, and how many at most for one answer. */
    private static final int READ_AT_ONCE = 200;

    private static final int MOST_READ = 20_000;

    /** Changes that were found. @param next to be asked before for more; empty where there are none */
    record Page(List<Change> changes, Optional<Long> next) {}

    private final Journal journal;
    private final Timeline timeline;
    private final ChangeFilter filter;
    private final Map<String, String> about = new TreeMap<>();

    LogbookFilter(Store store, Timeline timeline, QueryParameters queryParameters) {
        this.journal = store.journal();
        this.timeline = timeline;
        List<List<String>> subjects = new ArrayList<>();
        for (String noun : NOUNS)
            queryParameters.one(noun).ifPresent(id -> {
                subjects.add(List.of(noun + ":" + id));
                about.put(noun, id);
            });
        queryParameters.one("account").ifPresent(id -> about.put("account", id));
        queryParameters.word("kind", KINDS).ifPresent(kind -> subjects.add(List.of("kind:" + kind)));
        queryParameters.one("app").ifPresent(app -> subjects.add(settingsOf(app)));
        ZoneId zone = timeline.isEmpty()
                ? ZoneId.of("UTC")
                : timeline.present().estate().organisation().zone();
        filter = new ChangeFilter(
                queryParameters.one("author"),
                queryParameters.one("text").map(text -> text.replace("\0", "")),
                queryParameters.instant("from", zone),
                queryParameters.instant("to", zone),
                subjects,
                queryParameters.one("account"));
    }

    private List<String> settingsOf(String app) {
        if (timeline.isEmpty()) return List.of();
        return timeline.present().estate().catalogue().settings().values().stream()
                .filter(setting -> setting.app().equals(Optional.of(app)))
                .map(setting -> "setting:" + setting.key())
                .toList();
    }

    /** The present names of what the filter asks about, by noun. What no longer exists has no name. */
    Map<String, String> names() {
        Map<String, String> names = new TreeMap<>();
        if (timeline.isEmpty()) return names;
        Estate estate = timeline.present().estate();
        about.forEach((noun, id) -> name(estate, noun, id).ifPresent(name -> names.put(noun, name)));
        return names;
    }

    private static Optional<String> name(Estate estate, String noun, String id) {
        return switch (noun) {
            case "setting" -> estate.catalogue().setting(id).map(Setting::title);
            case "policy" -> estate.policy(id).map(Policy::name);
            case "group" -> estate.group(id).map(Group::name);
            case "unit" -> estate.unit(id).map(Unit::name);
            case "plan" -> estate.plan(id).map(Plan::name);
            case "workspace" -> estate.workspace(id).map(Workspace::name);
            case "hosting" -> estate.hosting(id).map(Hosting::name);
            default -> estate.account(id).map(Account::displayName);
        };
    }

    /** The newest changes before this one that the filter lets through. */
    Page before(long number, int limit) {
        List<Change> found = new ArrayList<>();
        long last = number;
        for (int read = 0; read < MOST_READ; read += READ_AT_ONCE) {
            List<Change> some = journal.before(last, READ_AT_ONCE, filter);
            for (Change change : some) {
                if (found.size() == limit)
                    return new Page(found, Optional.of(found.get(limit - 1).number()));
                if (matches(change)) found.add(change);
                last = change.number();
            }
            if (some.size() < READ_AT_ONCE) return new Page(found, Optional.empty());
        }
        return new Page(found, Optional.of(last));
    }

    /** Whether a change is about what is asked. The journal also returns changes with more subjects than it indexes. */
    private boolean matches(Change change) {
        if (filter.subjects().isEmpty() && filter.account().isEmpty()) return true;
        if (change.replacesEstate()) return true;
        Set<String> subjects = ChangeSubjects.of(change.edits(), change.ripple());
        return filter.subjects().stream().allMatch(wanted -> ChangeSubjects.overlap(subjects, wanted))
                && filter.account()
                        .map(account -> subjects.contains("account:" + account)
                                || !subjects.contains(ChangeSubjects.ANY_ACCOUNT)
                                || alters(change, account))
                        .orElse(true);
    }

    /** Whether a setting has another outcome for an account after a change than before. Costs its settings twice. */
    private boolean alters(Change change, String id) {
        if (change.number() == 1) return true;
        Snapshot before = timeline.snapshotAfter(change.number() - 1);
        Snapshot after = timeline.snapshotAfter(change.number());
        Optional<Account> was = before.estate().account(id).filter(Account::active);
        Optional<Account> is = after.estate().account(id).filter(Account::active);
        if (was.isEmpty() || is.isEmpty()) return was.isPresent() != is.isPresent();
        List<Optional<String>> places = new ArrayList<>(List.of(Optional.empty()));
        change.ripple()
                .path("inWorkspaces")
                .forEach(w -> places.add(Optional.of(w.path("id").asText())));
        return places.stream().anyMatch(place -> {
            AccountResolver old = before.resolvePast(new EvaluationContext(change.at(), place), was.get());
            AccountResolver now = after.resolvePast(new EvaluationContext(change.at(), place), is.get());
            for (Setting setting : after.estate().catalogue().settings().values())
                if (change.mayTouch(setting.key()) && differs(setting, before, old, now)) return true;
            return false;
        });
    }

    private static boolean differs(Setting setting, Snapshot before, AccountResolver old, AccountResolver now) {
        return before.estate()
                .catalogue()
                .setting(setting.key())
                .filter(s -> !old.outcome(s).value().equals(now.outcome(setting).value()))
                .isPresent();
    }
}
