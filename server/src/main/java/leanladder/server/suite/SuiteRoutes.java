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
import leanladder.resolve.AccountResolver;
import leanladder.resolve.EvaluationContext;
import leanladder.resolve.Outcome;
import leanladder.resolve.Visibility;
import leanladder.server.access.ClientSecret;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.query.QueryContext;
import leanladder.server.state.InstantResolution;
import leanladder.server.state.Timeline;
import leanladder.store.journal.Change;

/**
 * Serves the settings of one account to clients of the suite: every value in force, and what is shown where a feature is not available. The ETag is a
 * digest of the content. It is cached until anything changes, so that asking again costs one look-up.
 */
public final class SuiteRoutes implements RouteGroup {
    private static final Duration LONGEST = Duration.ofDays(62);
    private static final int TAGS_KEPT = 200_000;

    private final Timeline timeline;
    private final QueryContext.Reader queries;
    private final ClientSecret secret;
    private final SettingsPayloadCache settingsPayloadCache = new SettingsPayloadCache();
    private final Cache<DeliverySubject, KnownTag> tags =
            Caffeine.newBuilder().maximumSize(TAGS_KEPT).build();

    /** Delivers what stands on a timeline to clients that know the secret. */
    public SuiteRoutes(Timeline timeline, QueryContext.Reader queries, ClientSecret secret) {
        this.timeline = timeline;
        this.queries = queries;
        this.secret = secret;
    }

    private record DeliverySubject(String account, Optional<String> workspace) {}

    /** A tag, and the moment at which it holds; it does not hold on to what is past. */
    private record KnownTag(WeakReference<InstantResolution> moment, String tag) {}

    /**
     * A value in force.
     *
     * @param shown whether its control is there; a switch that is off, and whatever is blocked, is greyed or absent as the catalogue says
     * @param notice the sentence that a person reads where it is greyed or absent
     */
    public record DeliveredSetting(
            String key, @SchemaRef("Value") JsonNode value, Visibility shown, Optional<String> notice) {
        /** @param language that the account's user reads */
        static DeliveredSetting of(Setting setting, Outcome outcome, Optional<String> language) {
            Visibility visibility = Visibility.of(setting, outcome);
            return new DeliveredSetting(
                    setting.key(),
                    outcome.value().delivered(language),
                    visibility,
                    visibility == Visibility.THERE
                            ? Optional.empty()
                            : Optional.of(setting.source().path("notice").asText(""))
                                    .filter(n -> !n.isEmpty()));
        }
    }

    /** All values in force of an account, in the workspace that was named. */
    public record Delivery(String account, boolean active, List<DeliveredSetting> settings) {}

    /** From an instant on, what is delivered otherwise than before it; the first tells everything. */
    public record DeliveryHistoryPoint(Instant at, List<DeliveredSetting> settings) {}

    /**
     * What was delivered for an account, turn by turn.
     *
     * @param turns none while the account is inactive; they begin anew when it is active again
     */
    public record DeliveryHistory(String account, List<DeliveryHistoryPoint> turns) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/suite/accounts/{id}/settings", this::settings, Delivery.class);
        routeRegistry.get("/suite/accounts/{id}/history", this::history, DeliveryHistory.class);
    }

    private Response history(RequestContext requestContext) {
        secret.check(requestContext);
        QueryParameters queryParameters = requestContext.query(Set.of("since", "until", "workspace"));
        QueryContext queryContext = queries.read(queryParameters);
        String id = requestContext.path("id");
        account(queryContext, id);
        ZoneId zone = queryContext.estate().organisation().zone();
        Instant until = queryParameters.instant("until", zone).orElse(timeline.now());
        Instant since = queryParameters
                .instant("since", zone)
                .orElseThrow(() -> ProblemException.wrongInput("The parameter \"since\" is missing."));
        if (since.isAfter(until))
            throw ProblemException.wrongInput("The parameter \"since\" must not be later than \"until\".");
        if (Duration.between(since, until).compareTo(LONGEST) > 0)
            throw ProblemException.wrongInput(
                    "Between \"since\" and \"until\" there may be " + LONGEST.toDays() + " days at most.");
        Map<String, DeliveredSetting> standing = new HashMap<>();
        List<DeliveryHistoryPoint> turns = new ArrayList<>();
        for (Timeline.HistoryPoint historyPoint :
                timeline.historyPoints(since, until, change -> matters(change, id, queryContext.question()))) {
            Optional<Account> account =
                    historyPoint.snapshot().estate().account(id).filter(Account::active);
            if (account.isEmpty()) {
                standing.clear();
                turns.clear();
                continue;
            }
            List<DeliveredSetting> altered = new ArrayList<>();
            AccountResolver accountResolver =
                    historyPoint.climber(account.get(), queryContext.question().workspace());
            for (DeliveredSetting one : delivered(historyPoint.snapshot().estate(), accountResolver))
                if (!one.equals(standing.put(one.key(), one))) altered.add(one);
            if (!altered.isEmpty()) turns.add(new DeliveryHistoryPoint(historyPoint.at(), altered));
        }
        return Response.of(new DeliveryHistory(id, turns));
    }

    /**
     * Whether a change can have altered anything for the account, at once or when something begins or ends by it later. What it altered at
     * once for anybody stands in its ripple; what begins later by an edit of one account alone begins for that one.
     */
    private static boolean matters(Change change, String account, EvaluationContext evaluationContext) {
        return evaluationContext.workspace().isPresent()
                || change.replacesEstate()
                || change.isAutomatic()
                || !change.ripple().findValuesAsText("setting").isEmpty()
                || !change.concernsOnlyOtherAccounts(account);
    }

    private static Account account(QueryContext queryContext, String id) {
        return queryContext
                .estate()
                .account(id)
                .orElseThrow(() -> ProblemException.unknown("There is no account \"" + id + "\"."));
    }

    private static List<DeliveredSetting> delivered(Estate estate, AccountResolver accountResolver) {
        List<DeliveredSetting> settings = new ArrayList<>();
        for (Setting setting : estate.catalogue().settings().values())
            settings.add(DeliveredSetting.of(
                    setting,
                    accountResolver.outcome(setting),
                    accountResolver.accountReach().account().language()));
        return settings;
    }

    private Response settings(RequestContext requestContext) {
        secret.check(requestContext);
        QueryContext queryContext = queries.read(requestContext.query(Set.of("workspace")));
        String id = requestContext.path("id");
        Account account = account(queryContext, id);
        InstantResolution instantResolution = queryContext.instantResolution();
        DeliverySubject deliverySubject =
                new DeliverySubject(id, queryContext.question().workspace());
        KnownTag remembered = tags.getIfPresent(deliverySubject);
        if (remembered != null
                && remembered.moment.get() == instantResolution
                && isKnown(requestContext, remembered.tag)) return withTag(Response.unchanged(), remembered.tag);
        byte[] delivery = settingsPayloadCache.written(queryContext, account);
        String tag = "\"" + print(delivery) + "\"";
        tags.put(deliverySubject, new KnownTag(new WeakReference<>(instantResolution), tag));
        return withTag(isKnown(requestContext, tag) ? Response.unchanged() : Response.json(delivery), tag);
    }

    private static Response withTag(Response response, String tag) {
        return response.with("ETag", tag).with("Cache-Control", "private, no-cache");
    }

    private static boolean isKnown(RequestContext requestContext, String tag) {
        return requestContext
                .header("If-None-Match")
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
