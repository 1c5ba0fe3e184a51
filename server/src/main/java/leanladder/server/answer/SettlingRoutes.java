package leanladder.server.answer;

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
import leanladder.resolve.Question;
import leanladder.server.draft.Inquiry;
import leanladder.server.draft.SettlingTelling;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;
import leanladder.server.live.Receipt;
import leanladder.server.live.Snapshot;
import leanladder.server.live.Timeline;
import leanladder.server.today.Matter;
import leanladder.server.today.Matters;
import leanladder.settle.Settles;
import leanladder.settle.Settling;
import leanladder.store.Store;
import leanladder.store.journal.Change;
import leanladder.tell.Wording;

/**
 * What can be on a person's screen while a change is on its way (resolution.md, section 10). The history of one account and setting is
 * read off the journal: of the changes that are younger than the setting takes at most, only those that moved it, or the account, are
 * looked at, each with the edges of time that follow it.
 */
public final class SettlingRoutes implements Room, Matters {
    private static final int AT_ONCE = 200;
    private static final int MOST_LISTED = 1000;

    private final Store store;
    private final Timeline timeline;
    private final Inquiry.Reader inquiries;
    private final Cache<Long, Moved> known =
            Caffeine.newBuilder().maximumSize(2 * MOST_LISTED).build();

    /** Answers from the journal, and from the estates of a timeline. */
    public SettlingRoutes(Store store, Timeline timeline, Inquiry.Reader inquiries) {
        this.store = store;
        this.timeline = timeline;
        this.inquiries = inquiries;
    }

    /** A value that may be on the screen. */
    public record SettlingValue(@Shape("Value") JsonNode value, String words) {}

    /**
     * What can be on the screen.
     *
     * @param from when something may arrive, while it is not settled @param until from when on it is, if nothing else comes
     * @param then what the person must do: refresh, sign-in or restart; null for nothing
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
     * @param then the most laborious of what people must do: refresh, sign-in or restart; null for nothing
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
    public void routes(Api api) {
        api.get("/settling", this::settling, SettlingView.class);
        api.get("/settling/changes", this::changes, SettlingChanges.class);
    }

    private Answer changes(Call call) {
        Query query = call.query(Set.of("policy"));
        Instant now = timeline.now();
        List<SettlingChange> found = changes(inquiries.of(Query.none()), now, query.one("policy"));
        return Answer.of(new SettlingChanges(
                now, found, found.stream().map(SettlingChange::until).max(Comparator.naturalOrder())));
    }

    private List<SettlingChange> changes(Inquiry inquiry, Instant now, Optional<String> policy) {
        Map<String, Setting> catalogue = inquiry.estate().catalogue().settings();
        Duration most = catalogue.values().stream()
                .map(s -> Settles.of(s).most())
                .max(Comparator.naturalOrder())
                .orElse(Duration.ZERO);
        long before = store.journal().numberAt(now.minus(most));
        List<SettlingChange> found = new ArrayList<>();
        for (Moved moved : moved(Math.max(before, timeline.change() - MOST_LISTED), timeline.change()))
            if (policy.isEmpty() || moved.policies.contains(policy.get()))
                settling(moved, catalogue, now, inquiry.wording()).ifPresent(found::add);
        return found;
    }

    /** The changes that are on their way. */
    @Override
    public List<Matter> of(Inquiry inquiry) {
        return changes(inquiry, inquiry.question().at(), Optional.empty()).stream()
                .map(change -> new Matter(
                        Matter.Topic.SETTLING,
                        "settling:" + change.number(),
                        "Change " + change.number() + (change.note().isEmpty() ? "" : ", “" + change.note() + "”,")
                                + " is on its way. " + change.words(),
                        "/logbook/" + change.number(),
                        Optional.of(change.until())))
                .toList();
    }

    /** What a change moved, as far as it tells when it has settled: a small part of what the journal holds of it. */
    private record Moved(Receipt receipt, Set<String> policies, Set<String> settings, int accounts) {
        static Moved of(Change change) {
            return new Moved(
                    Receipt.of(change),
                    Set.copyOf(change.edits().findValuesAsText("policy")),
                    Set.copyOf(change.ripple().path("moves").findValuesAsText("setting")),
                    change.ripple().path("accounts").asInt());
        }
    }

    /** The changes after one and not after another, the newest first. Each is read from the journal once and then known. */
    private List<Moved> moved(long after, long until) {
        List<Moved> moved = new ArrayList<>();
        for (long number = until; number > after; number--) {
            Moved there = known.getIfPresent(number);
            if (there == null) {
                store.journal()
                        .before(number + 1, (int) Math.min(AT_ONCE, number - after))
                        .forEach(c -> known.put(c.number(), Moved.of(c)));
                there = known.getIfPresent(number);
            }
            if (there != null) moved.add(there);
        }
        return moved;
    }

    /** How a change is still on its way at an instant; empty where it has arrived. */
    private static Optional<SettlingChange> settling(
            Moved moved, Map<String, Setting> catalogue, Instant now, Wording wording) {
        Instant at = moved.receipt.at();
        List<Settles> settles = moved.settings.stream()
                .map(catalogue::get)
                .filter(Objects::nonNull)
                .map(Settles::of)
                .filter(s -> at.plus(s.most()).isAfter(now))
                .toList();
        if (settles.isEmpty()) return Optional.empty();
        Instant from = at.plus(settles.stream()
                .map(Settles::least)
                .min(Comparator.naturalOrder())
                .orElseThrow());
        Instant until = at.plus(settles.stream()
                .map(Settles::most)
                .max(Comparator.naturalOrder())
                .orElseThrow());
        Optional<Settles.Then> then =
                settles.stream().flatMap(s -> s.then().stream()).max(Comparator.naturalOrder());
        String whom = moved.accounts == 1 ? "one account" : String.format("%,d accounts", moved.accounts);
        return Optional.of(new SettlingChange(
                moved.receipt.number(),
                moved.receipt.note(),
                moved.receipt.author(),
                at,
                moved.accounts,
                from,
                until,
                then.map(Settles.Then::word),
                "It settles for " + whom + " by " + wording.moment(until) + " at the latest"
                        + SettlingTelling.after(then) + "."));
    }

    private Answer settling(Call call) {
        Query query = call.query(Set.of("account", "setting", "workspace", "at"));
        Inquiry inquiry = inquiries.of(query);
        Account account = inquiry.account(query.required("account"));
        Setting setting = inquiry.setting(query.required("setting"));
        List<Settling.Entry<Value>> history = history(account.id(), setting, inquiry.question());
        Settling<Value> settling = Settling.at(history, inquiry.question().at()).orElseThrow();
        Wording wording = inquiry.wording();
        return Answer.of(new SettlingView(
                settling.state(),
                settling.possible().stream()
                        .map(v -> new SettlingValue(v.json(), wording.value(setting, v)))
                        .toList(),
                settling.from(),
                settling.until(),
                settling.then().map(Settles.Then::word),
                words(settling, history.get(history.size() - 1).value(), setting, wording)));
    }

    private List<Settling.Entry<Value>> history(String account, Setting setting, Question question) {
        Instant at = question.at();
        Duration most = Settles.of(setting).most();
        List<Settling.Entry<Value>> entries = new ArrayList<>();
        timeline.turns(at.minus(most), at, change -> matters(change, account, setting, question))
                .forEach(turn -> add(entries, turn, account, setting, question));
        return Settling.history(entries);
    }

    /** Whether a change can have moved the setting for the account, at once or when something begins or ends by it later. */
    private static boolean matters(Change change, String account, Setting setting, Question question) {
        return question.workspace().isPresent()
                || change.replacesEstate()
                || change.isOfTheClock()
                || change.ripple().findValuesAsText("setting").contains(setting.key())
                || change.mayTouch(setting.key()) && !change.isOfOthersThan(account);
    }

    /** What was in force; an account that is inactive, or is no more, begins anew. */
    private static void add(
            List<Settling.Entry<Value>> entries,
            Timeline.Turn turn,
            String account,
            Setting setting,
            Question question) {
        Snapshot snapshot = turn.snapshot();
        Optional<Account> who = snapshot.estate().account(account).filter(Account::active);
        Optional<Setting> what = snapshot.estate().catalogue().setting(setting.key());
        if (who.isEmpty() || what.isEmpty()) {
            entries.clear();
            return;
        }
        Value value = turn.climber(who.get(), question.workspace())
                .climb(what.get())
                .outcome()
                .value();
        entries.add(new Settling.Entry<>(turn.at(), value, Settles.of(what.get())));
    }

    private static String words(Settling<Value> settling, Value inForce, Setting setting, Wording wording) {
        if (settling.state() == Settling.Progress.SETTLED) return "";
        String now =
                settling.possible().stream().map(v -> wording.value(setting, v)).collect(Collectors.joining(" or "));
        String when = wording.moment(settling.until().orElseThrow());
        String still = settling.state() == Settling.Progress.COMING
                ? "On the screen it is still " + now + ", until "
                        + wording.moment(settling.from().orElseThrow()) + " at the earliest"
                : "On the screen it may be " + now + " now";
        return still + "; it is " + wording.value(setting, inForce) + " by " + when + " at the latest"
                + SettlingTelling.after(settling.then()) + ".";
    }
}
