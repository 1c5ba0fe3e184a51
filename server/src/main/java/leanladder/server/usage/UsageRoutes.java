package leanladder.server.usage;

import java.io.IOException;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.estate.Estate;
import leanladder.estate.Unit;
import leanladder.json.JsonCursor;
import leanladder.server.access.ClientSecret;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Timeline;
import org.roaringbitmap.RoaringBitmap;

/** Takes reports of usage from clients of the suite. Answers who uses a setting over time and by unit, and when one account used it last. */
public record UsageRoutes(UsageReader reader, Timeline timeline, QueryContext.Reader queries, ClientSecret secret)
        implements RouteGroup {
    /** Smaller counts are not shown by unit. */
    private static final int FEWEST = 5;

    /** How many days back a client may report. */
    private static final int LATE = 30;

    /** How many used a setting in a period. @param days 1 or 7 */
    public record UsagePeriod(LocalDate day, int days, int people) {}

    /** How many in a unit and below it used a setting lately. @param people empty where it is one to four, so that nobody is singled out */
    public record UnitUsage(String id, String name, Optional<Integer> people, int everyone) {}

    /** Items that are shared outside. @param day on which that was reported */
    public record SharedItems(long items, LocalDate day) {}

    /**
     * The usage of a setting.
     *
     * @param recent how many used it in the last 30 days
     * @param periods the oldest first; empty where nothing was reported
     * @param units the units directly below the organisation
     */
    public record SettingUsage(
            int recent, int everyone, List<UsagePeriod> periods, List<UnitUsage> units, Optional<SharedItems> items) {}

    /** When somebody used a setting last: on that day, or in the week that begins on it. Empty where it is not known. */
    public record LastUse(Optional<LocalDate> day, int days, boolean reported) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.post("/suite/usage", this::report, number -> Response.none());
        routeRegistry.get("/settings/{key}/usage", this::ofSetting, SettingUsage.class);
        routeRegistry.get("/accounts/{id}/usage/{setting}", this::ofAccount, LastUse.class);
    }

    private LocalDate today() {
        return timeline.now().atOffset(ZoneOffset.UTC).toLocalDate();
    }

    private Response report(RequestContext requestContext) throws IOException {
        secret.check(requestContext);
        JsonRequestBody body = requestContext.sent(Limits.BATCH);
        Estate estate = timeline.present().estate();
        Optional<LocalDate> day = body.root().required("day").flatMap(this::day);
        Map<String, Set<String>> uses = new HashMap<>();
        for (JsonCursor use : body.root().items("uses")) {
            Optional<String> setting = setting(use, estate);
            Set<String> accounts = new HashSet<>();
            for (JsonCursor account : use.items("accounts"))
                account.text().ifPresent(id -> {
                    if (estate.account(id).isEmpty())
                        account.defect("names the account \"" + id + "\", which there is not");
                    accounts.add(id);
                });
            setting.ifPresent(
                    key -> uses.computeIfAbsent(key, k -> new HashSet<>()).addAll(accounts));
        }
        Map<String, Long> items = new HashMap<>();
        for (JsonCursor shared : body.root().items("items")) {
            Optional<Long> count = shared.required("items").flatMap(JsonRequestBody::number);
            count.filter(n -> n < 0).ifPresent(n -> shared.defect("must not count fewer than no items"));
            setting(shared, estate).ifPresent(key -> count.ifPresent(n -> items.put(key, n)));
        }
        body.refuseDefects();
        reader.table().add(requestContext.writeRequest(), day.orElseThrow(), uses, items);
        return Response.none();
    }

    private Optional<LocalDate> day(JsonCursor place) {
        Optional<String> text = place.text();
        try {
            Optional<LocalDate> day = text.map(LocalDate::parse);
            day.filter(d -> d.isAfter(today().plusDays(1)) || d.isBefore(today().minusDays(LATE)))
                    .ifPresent(d -> place.defect(
                            "must be today, or one of the " + LATE + " days before; later reports are not taken"));
            return day;
        } catch (DateTimeParseException e) {
            place.defect("must be a day, such as 2026-11-26");
            return Optional.empty();
        }
    }

    private static Optional<String> setting(JsonCursor of, Estate estate) {
        Optional<JsonCursor> place = of.required("setting");
        Optional<String> key = place.flatMap(JsonCursor::text);
        key.filter(k -> estate.catalogue().setting(k).isEmpty())
                .ifPresent(k -> place.orElseThrow()
                        .defect("names the setting \"" + k + "\", which the catalogue does not list"));
        return key;
    }

    private Response ofSetting(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        Setting setting = queryContext.setting(requestContext.path("key"));
        var directory = queryContext.directory();
        RoaringBitmap recent = reader.users(setting.key(), UsageReader.firstRecentDay(timeline.now()), directory);
        recent.and(directory.active());
        List<UnitUsage> units = new ArrayList<>();
        for (Unit unit : queryContext.estate().units()) {
            boolean below = unit.parent()
                    .flatMap(p -> queryContext.estate().unit(p))
                    .filter(p -> p.parent().isEmpty())
                    .isPresent();
            if (!below) continue;
            RoaringBitmap everyone = RoaringBitmap.and(directory.inOrBelow(unit.id()), directory.active());
            int people = RoaringBitmap.andCardinality(everyone, recent);
            units.add(new UnitUsage(
                    unit.id(),
                    unit.name(),
                    people > 0 && people < FEWEST ? Optional.empty() : Optional.of(people),
                    everyone.getCardinality()));
        }
        return Response.of(new SettingUsage(
                recent.getCardinality(),
                directory.active().getCardinality(),
                reader.table().periods(setting.key()).stream()
                        .map(p -> new UsagePeriod(p.day(), p.days(), p.people()))
                        .toList(),
                units,
                reader.table().items(setting.key()).map(i -> new SharedItems(i.items(), i.day()))));
    }

    private Response ofAccount(RequestContext requestContext) {
        requestContext.query(Set.of());
        Estate estate = timeline.present().estate();
        String account = requestContext.path("id");
        String setting = requestContext.path("setting");
        if (estate.account(account).isEmpty())
            throw ProblemException.unknown("There is no account \"" + account + "\".");
        if (estate.catalogue().setting(setting).isEmpty())
            throw ProblemException.unknown("There is no setting \"" + setting + "\".");
        boolean reported = !reader.table().periods(setting).isEmpty();
        return Response.of(reader.table()
                .lastUse(setting, account)
                .map(p -> new LastUse(Optional.of(p.day()), p.days(), true))
                .orElse(new LastUse(Optional.empty(), 1, reported)));
    }
}
