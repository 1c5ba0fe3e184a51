package leanladder.server.suite;

import com.fasterxml.jackson.databind.JsonNode;
import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.lang.ref.WeakReference;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.resolve.Climber;
import leanladder.resolve.Outcome;
import leanladder.resolve.Question;
import leanladder.resolve.Shown;
import leanladder.server.access.ClientSecret;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;
import leanladder.server.live.Moment;
import leanladder.server.live.Timeline;
import leanladder.store.journal.Change;

/**
 * What a client of the suite fetches for one account: every value in force, and what stands where a feature is not there. The tag of an answer
 * is that of its content; it is remembered for as long as nothing at all changes, so that asking again then costs a look-up.
 */
public final class SuiteRoutes implements Room {
    private static final Duration LONGEST = Duration.ofDays(62);
    private static final int TAGS_KEPT = 200_000;

    private final Timeline timeline;
    private final Inquiry.Reader inquiries;
    private final ClientSecret secret;
    private final Deliveries deliveries = new Deliveries();
    private final Cache<Whose, KnownTag> tags =
            Caffeine.newBuilder().maximumSize(TAGS_KEPT).build();

    /** Delivers what stands on a timeline to clients that know the secret. */
    public SuiteRoutes(Timeline timeline, Inquiry.Reader inquiries, ClientSecret secret) {
        this.timeline = timeline;
        this.inquiries = inquiries;
        this.secret = secret;
    }

    private record Whose(String account, Optional<String> workspace) {}

    /** A tag, and the moment at which it holds; it does not hold on to what is past. */
    private record KnownTag(WeakReference<Moment> moment, String tag) {}

    /**
     * A value in force.
     *
     * @param shown whether its control is there; a switch that is off, and whatever is blocked, is greyed or absent as the catalogue says
     * @param notice the sentence that a person reads where it is greyed or absent
     */
    public record Delivered(String key, @Shape("Value") JsonNode value, Shown shown, Optional<String> notice) {
        static Delivered of(Setting setting, Outcome outcome) {
            Shown shown = Shown.of(setting, outcome);
            return new Delivered(
                    setting.key(),
                    outcome.value().json(),
                    shown,
                    shown == Shown.THERE
                            ? Optional.empty()
                            : Optional.of(setting.source().path("notice").asText(""))
                                    .filter(n -> !n.isEmpty()));
        }
    }

    /** All values in force of an account, in the workspace that was named. */
    public record Delivery(String account, boolean active, List<Delivered> settings) {}

    /** From an instant on, what is delivered otherwise than before it; the first tells everything. */
    public record DeliveryTurn(Instant at, List<Delivered> settings) {}

    /**
     * What was delivered for an account, turn by turn.
     *
     * @param turns none while the account is inactive; they begin anew when it is active again
     */
    public record DeliveryHistory(String account, List<DeliveryTurn> turns) {}

    @Override
    public void routes(Api api) {
        api.get("/suite/accounts/{id}/settings", this::settings, Delivery.class);
        api.get("/suite/accounts/{id}/history", this::history, DeliveryHistory.class);
    }

    private Answer history(Call call) {
        secret.check(call);
        Query query = call.query(Set.of("since", "until", "workspace"));
        Inquiry inquiry = inquiries.of(query);
        String id = call.path("id");
        account(inquiry, id);
        ZoneId zone = inquiry.estate().organisation().zone();
        Instant until = query.instant("until", zone).orElse(timeline.now());
        Instant since = query.instant("since", zone)
                .orElseThrow(() -> Problem.wrongInput("The parameter \"since\" is missing."));
        if (since.isAfter(until)) throw Problem.wrongInput("The parameter \"since\" must not be later than \"until\".");
        if (Duration.between(since, until).compareTo(LONGEST) > 0)
            throw Problem.wrongInput(
                    "Between \"since\" and \"until\" there may be " + LONGEST.toDays() + " days at most.");
        Map<String, Delivered> standing = new HashMap<>();
        List<DeliveryTurn> turns = new ArrayList<>();
        for (Timeline.Turn turn : timeline.turns(since, until, change -> matters(change, id, inquiry.question()))) {
            Optional<Account> account = turn.snapshot().estate().account(id).filter(Account::active);
            if (account.isEmpty()) {
                standing.clear();
                turns.clear();
                continue;
            }
            List<Delivered> altered = new ArrayList<>();
            Climber climber = turn.climber(account.get(), inquiry.question().workspace());
            for (Delivered one : delivered(turn.snapshot().estate(), climber))
                if (!one.equals(standing.put(one.key(), one))) altered.add(one);
            if (!altered.isEmpty()) turns.add(new DeliveryTurn(turn.at(), altered));
        }
        return Answer.of(new DeliveryHistory(id, turns));
    }

    /**
     * Whether a change can have altered anything for the account, at once or when something begins or ends by it later. What it altered at
     * once for anybody stands in its ripple; what begins later by an edit of one account alone begins for that one.
     */
    private static boolean matters(Change change, String account, Question question) {
        return question.workspace().isPresent()
                || change.replacesEstate()
                || change.isOfTheClock()
                || !change.ripple().findValuesAsText("setting").isEmpty()
                || !change.isOfOthersThan(account);
    }

    private static Account account(Inquiry inquiry, String id) {
        return inquiry.estate().account(id).orElseThrow(() -> Problem.unknown("There is no account \"" + id + "\"."));
    }

    private static List<Delivered> delivered(Estate estate, Climber climber) {
        List<Delivered> settings = new ArrayList<>();
        for (Setting setting : estate.catalogue().settings().values())
            settings.add(Delivered.of(setting, climber.outcome(setting)));
        return settings;
    }

    private Answer settings(Call call) {
        secret.check(call);
        Inquiry inquiry = inquiries.of(call.query(Set.of("workspace")));
        String id = call.path("id");
        Account account = account(inquiry, id);
        Moment moment = inquiry.moment();
        Whose whose = new Whose(id, inquiry.question().workspace());
        KnownTag remembered = tags.getIfPresent(whose);
        if (remembered != null && remembered.moment.get() == moment && isKnown(call, remembered.tag))
            return withTag(Answer.unchanged(), remembered.tag);
        byte[] delivery = deliveries.written(inquiry, account);
        String tag = "\"" + print(delivery) + "\"";
        tags.put(whose, new KnownTag(new WeakReference<>(moment), tag));
        return withTag(isKnown(call, tag) ? Answer.unchanged() : Answer.json(delivery), tag);
    }

    private static Answer withTag(Answer answer, String tag) {
        return answer.with("ETag", tag).with("Cache-Control", "private, no-cache");
    }

    private static boolean isKnown(Call call, String tag) {
        return call.header("If-None-Match")
                .filter(sent ->
                        List.of(sent.split("\\s*,\\s*")).contains(tag) || sent.contains("W/" + tag) || sent.equals("*"))
                .isPresent();
    }

    private static String print(byte[] delivery) {
        try {
            byte[] print = MessageDigest.getInstance("SHA-256").digest(delivery);
            return HexFormat.of().formatHex(print, 0, 12);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
