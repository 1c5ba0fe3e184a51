package leanladder.server.explain;

import com.fasterxml.jackson.databind.JsonNode;
import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.resolve.EvaluationContext;
import leanladder.server.draft.SettlingFormatter;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Receipt;
import leanladder.server.state.Snapshot;
import leanladder.server.state.Timeline;
import leanladder.server.today.TodoItem;
import leanladder.server.today.TodoSource;
import leanladder.settle.SettleTime;
import leanladder.settle.Settling;
import leanladder.store.Store;
import leanladder.store.journal.Change;
import leanladder.text.EstateFormatter;

/**
 * What can be on a person's screen while a change is on its way (resolution.md, section 10). The history of one account and setting is
 * read off the journal: of the changes that are younger than the setting takes at most, only those that moved it, or the account, are
 * looked at, each with the edges of time that follow it.
 */
public final class SettlingRoutes implements RouteGroup, TodoSource {
    private static final int AT_ONCE = 200;
    private static final int MOST_LISTED = 1000;

    private final Store store;
    private final Timeline timeline;
    private final QueryContext.Reader queries;
    private final Cache<Long, ChangedOutcomes> known =
            Caffeine.newBuilder().maximumSize(2 * MOST_LISTED).build();

    /** Answers from the journal, and from the estates of a timeline. */
    public SettlingRoutes(Store store, Timeline timeline, QueryContext.Reader queries) {
        this.store = store;
        this.timeline = timeline;
        this.queries = queries;
    }

    /** A value that may be on the screen. */
    public record SettlingValue(@SchemaRef("Value") JsonNode value, String words) {}

    /**
     * What can be on the screen.
     *
     * @param from when something may arrive, while it is not settled @param until from when on it is, if nothing else comes
     * @param then what the person must do: refresh, sign-in, restart, update or clear; null for nothing
     * @param words the same as a sentence; empty where it is settled
     */
    public record SettlingView(
            Settling.Progress state,
            List<SettlingValue> possible,
            Optional<Instant> from,
            Optional<Instant> until,
            Optional<String> then,
            String words) {}

    /**
     * A change that is still on its way to somebody's screen.
     *
     * @param accounts how many it changed
     * @param from when something of it may arrive @param until from when on nothing of it is on its way any more
     * @param then the most laborious of what people must do: refresh, sign-in, restart, update or clear; null for nothing
     * @param words the same as a sentence
     */
    public record SettlingChange(
            long number,
            String note,
            String author,
            Instant at,
            int accounts,
            Instant from,
            Instant until,
            Optional<String> then,
            String words) {}

    /** Changes that are still on their way, the newest first, of the latest 1,000. @param until when the last of them has settled; null where none is */
    public record SettlingChanges(Instant now, List<SettlingChange> changes, Optional<Instant> until) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/settling", this::settling, SettlingView.class);
        routeRegistry.get("/settling/changes", this::changes, SettlingChanges.class);
    }

    private Response changes(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(Set.of("policy"));
        Instant now = timeline.now();
        List<SettlingChange> found = changes(queries.read(QueryParameters.none()), now, queryParameters.one("policy"));
        return Response.of(new SettlingChanges(
                now, found, found.stream().map(SettlingChange::until).max(Comparator.naturalOrder())));
    }

    private List<SettlingChange> changes(QueryContext queryContext, Instant now, Optional<String> policy) {
        Map<String, Setting> catalogue = queryContext.estate().catalogue().settings();
        Duration most = catalogue.values().stream()
                .map(s -> SettleTime.from(s).most())
                .max(Comparator.naturalOrder())
                .orElse(Duration.ZERO);
        long before = store.journal().numberAt(now.minus(most));
        List<SettlingChange> found = new ArrayList<>();
        for (ChangedOutcomes changedOutcomes :
                moved(Math.max(before, timeline.change() - MOST_LISTED), timeline.change()))
            if (policy.isEmpty() || changedOutcomes.policies.contains(policy.get()))
                settling(changedOutcomes, catalogue, now, queryContext.estateFormatter())
                        .ifPresent(found::add);
        return found;
    }

    /** The changes that are on their way. */
    @Override
    public List<TodoItem> of(QueryContext queryContext) {
        return changes(queryContext, queryContext.question().at(), Optional.empty()).stream()
                .map(change -> new TodoItem(
                        TodoItem.Topic.SETTLING,
                        "settling:" + change.number(),
                        "Change " + change.number() + (change.note().isEmpty() ? "" : ", “" + change.note() + "”,")
                                + " is on its way. " + change.words(),
                        "/logbook/" + change.number(),
                        Optional.of(change.until())))
                .toList();
    }

    /** What a change moved, as far as it tells when it has settled: a small part of what the journal holds of it. */
    private record ChangedOutcomes(Receipt receipt, Set<String> policies, Set<String> settings, int accounts) {
        static ChangedOutcomes of(Change change) {
            return new ChangedOutcomes(
                    Receipt.from(change),
                    Set.copyOf(change.edits().findValuesAsText("policy")),
                    Set.copyOf(change.ripple().path("moves").findValuesAsText("setting")),
                    change.ripple().path("accounts").asInt());
        }
    }

    /** The changes after one and not after another, the newest first. Each is read from the journal once and then known. */
    private List<ChangedOutcomes> moved(long after, long until) {
        List<ChangedOutcomes> moved = new ArrayList<>();
        for (long number = until; number > after; number--) {
            ChangedOutcomes there = known.getIfPresent(number);
            if (there == null) {
                store.journal()
                        .before(number + 1, (int) Math.min(AT_ONCE, number - after))
                        .forEach(c -> known.put(c.number(), ChangedOutcomes.of(c)));
                there = known.getIfPresent(number);
            }
            if (there != null) moved.add(there);
        }
        return moved;
    }

    /** How a change is still on its way at an instant; empty where it has arrived. */
    private static Optional<SettlingChange> settling(
            ChangedOutcomes changedOutcomes,
            Map<String, Setting> catalogue,
            Instant now,
            EstateFormatter estateFormatter) {
        Instant at = changedOutcomes.receipt.at();
        List<SettleTime> settles = changedOutcomes.settings.stream()
                .map(catalogue::get)
                .filter(Objects::nonNull)
                .map(SettleTime::from)
                .filter(s -> at.plus(s.most()).isAfter(now))
                .toList();
        if (settles.isEmpty()) return Optional.empty();
        Instant from = at.plus(settles.stream()
                .map(SettleTime::least)
                .min(Comparator.naturalOrder())
                .orElseThrow());
        Instant until = at.plus(settles.stream()
                .map(SettleTime::most)
                .max(Comparator.naturalOrder())
                .orElseThrow());
        Optional<SettleTime.RequiredUserAction> then =
                settles.stream().flatMap(s -> s.then().stream()).max(Comparator.naturalOrder());
        String whom =
                changedOutcomes.accounts == 1 ? "one account" : String.format("%,d accounts", changedOutcomes.accounts);
        return Optional.of(new SettlingChange(
                changedOutcomes.receipt.number(),
                changedOutcomes.receipt.note(),
                changedOutcomes.receipt.author(),
                at,
                changedOutcomes.accounts,
                from,
                until,
                then.map(SettleTime.RequiredUserAction::word),
                "It settles for " + whom + " by " + estateFormatter.moment(until) + " at the latest"
                        + SettlingFormatter.after(then) + "."));
    }

    private Response settling(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(Set.of("account", "setting", "workspace", "at"));
        QueryContext queryContext = queries.read(queryParameters);
        Account account = queryContext.account(queryParameters.required("account"));
        Setting setting = queryContext.setting(queryParameters.required("setting"));
        List<Settling.Entry<Value>> history = history(account.id(), setting, queryContext.question());
        Settling<Value> settling =
                Settling.at(history, queryContext.question().at()).orElseThrow();
        EstateFormatter estateFormatter = queryContext.estateFormatter();
        return Response.of(new SettlingView(
                settling.state(),
                settling.possible().stream()
                        .map(v -> new SettlingValue(v.json(), estateFormatter.value(setting, v)))
                        .toList(),
                settling.from(),
                settling.until(),
                settling.then().map(SettleTime.RequiredUserAction::word),
                words(settling, history.get(history.size() - 1).value(), setting, estateFormatter)));
    }

    private List<Settling.Entry<Value>> history(String account, Setting setting, EvaluationContext evaluationContext) {
        Instant at = evaluationContext.at();
        Duration most = SettleTime.from(setting).most();
        List<Settling.Entry<Value>> entries = new ArrayList<>();
        timeline.historyPoints(at.minus(most), at, change -> matters(change, account, setting, evaluationContext))
                .forEach(historyPoint -> add(entries, historyPoint, account, setting, evaluationContext));
        return Settling.history(entries);
    }

    /** Whether a change can have moved the setting for the account, at once or when something begins or ends by it later. */
    private static boolean matters(
            Change change, String account, Setting setting, EvaluationContext evaluationContext) {
        return evaluationContext.workspace().isPresent()
                || change.replacesEstate()
                || change.isAutomatic()
                || change.ripple().findValuesAsText("setting").contains(setting.key())
                || change.mayTouch(setting.key()) && !change.concernsOnlyOtherAccounts(account);
    }

    /** What was in force; an account that is inactive, or is no more, begins anew. */
    private static void add(
            List<Settling.Entry<Value>> entries,
            Timeline.HistoryPoint historyPoint,
            String account,
            Setting setting,
            EvaluationContext evaluationContext) {
        Snapshot snapshot = historyPoint.snapshot();
        Optional<Account> who = snapshot.estate().account(account).filter(Account::active);
        Optional<Setting> what = snapshot.estate().catalogue().setting(setting.key());
        if (who.isEmpty() || what.isEmpty()) {
            entries.clear();
            return;
        }
        Value value = historyPoint
                .climber(who.get(), evaluationContext.workspace())
                .climb(what.get())
                .outcome()
                .value();
        entries.add(new Settling.Entry<>(historyPoint.at(), value, SettleTime.from(what.get())));
    }

    private static String words(
            Settling<Value> settling, Value inForce, Setting setting, EstateFormatter estateFormatter) {
        if (settling.state() == Settling.Progress.SETTLED) return "";
        String now = settling.possible().stream()
                .map(v -> estateFormatter.value(setting, v))
                .collect(Collectors.joining(" or "));
        String when = estateFormatter.moment(settling.until().orElseThrow());
        String still = settling.state() == Settling.Progress.COMING
                ? "On the screen it is still " + now + ", until "
                        + estateFormatter.moment(settling.from().orElseThrow()) + " at the earliest"
                : "On the screen it may be " + now + " now";
        return still + "; it is " + estateFormatter.value(setting, inForce) + " by " + when + " at the latest"
                + SettlingFormatter.after(settling.then()) + ".";
    }
}
