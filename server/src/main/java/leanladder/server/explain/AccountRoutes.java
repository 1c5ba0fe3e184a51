package leanladder.server.explain;

import com.fasterxml.jackson.annotation.JsonValue;
import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.estate.Account;
import leanladder.estate.Consent;
import leanladder.estate.Ring;
import leanladder.estate.Workspace;
import leanladder.reach.AccountReach;
import leanladder.reach.RungKind;
import leanladder.resolve.Outcome;
import leanladder.resolve.Standing;
import leanladder.seat.Allocation;
import leanladder.server.http.CsvResponse;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.paging.NamedRef;
import leanladder.server.query.QueryContext;
import leanladder.text.EstateFormatter;
import org.roaringbitmap.RoaringBitmap;

/** One account: where it stands, and all its settings beside those of its unit. */
public record AccountRoutes(QueryContext.Reader queries) implements RouteGroup {
    /** How an account stands to a plan of which it wants a seat. */
    public enum AccountSeat {
        SEATED("seated"),
        WAITING("waiting"),
        OUT_OF_TERM("out of term");

        private final String word;

        AccountSeat(String word) {
            this.word = word;
        }

        /** The word of the interface. */
        @JsonValue
        public String word() {
            return word;
        }
    }

    /** A component that a seat does not carry for an account. @param rules the positions, from 1, of the rules that leave it out */
    public record LeftOutComponent(String name, List<Integer> rules) {}

    /**
     * A plan of which an account wants a seat.
     *
     * @param since the day from which on it holds the seat, in words
     * @param rule the position, from 1, of the rule by which it claims the seat
     * @param place in the line of those who wait, from 1
     * @param carries names of the components that it has through the seat
     */
    public record SeatDetail(
            String planId,
            String plan,
            AccountSeat standing,
            Optional<String> since,
            Optional<Integer> rule,
            Optional<Integer> place,
            List<String> carries,
            List<LeftOutComponent> leftOut) {}

    /** A consent that counts. @param to the ring or the feature by name @param since a day in words */
    public record ConsentDetail(String to, String since) {}

    /** The ring in which an account stands. @param consented the day of its consent, in words */
    public record AccountRing(String id, String name, boolean asksConsent, Optional<String> consented) {}

    /** Where an account stands. @param workspace the name of the question's workspace */
    public record AccountView(
            String id,
            String displayName,
            String userName,
            String kind,
            Optional<String> title,
            Optional<String> workspace,
            List<NamedRef> path,
            List<NamedRef> groups,
            List<SeatDetail> seats,
            Optional<AccountRing> ring,
            List<ConsentDetail> consents,
            List<NamedRef> workspaces) {}

    /**
     * A setting of an account.
     *
     * @param usual what more than half of the unit have, where it differs
     * @param blockedBy the needs that are not met, in words
     */
    public record AccountSetting(
            String key,
            String title,
            Optional<String> app,
            String value,
            @SchemaRef("Value") JsonNode inForce,
            String decided,
            Standing standing,
            RungKind rung,
            boolean differs,
            Optional<String> usual,
            List<String> blockedBy) {
        private List<String> cells(QueryContext queryContext) {
            return CsvResponse.line(
                    app.map(queryContext.estate().catalogue().apps()::get).orElse(""),
                    title,
                    value,
                    standing.word(),
                    rung.word(),
                    usual.orElse(""),
                    String.join("; ", blockedBy));
        }
    }

    /** All settings of an account. */
    public record AccountSettings(long change, List<AccountSetting> settings) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/accounts/{id}", this::account, AccountView.class);
        routeRegistry.get("/accounts/{id}/settings", this::settings, AccountSettings.class);
    }

    private Response account(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        Account account = queryContext.account(requestContext.path("id"));
        List<SeatDetail> seats = new ArrayList<>();
        int number = queryContext.directory().number(account.id());
        for (Allocation allocation :
                queryContext.instantResolution().entitlements().allocations()) {
            if (!allocation.claimants().contains(number)) continue;
            seats.add(seat(queryContext, allocation, number));
        }
        AccountReach accountReach = new AccountReach(queryContext.directory(), account);
        return Response.of(new AccountView(
                account.id(),
                account.displayName(),
                account.userName(),
                queryContext.estateFormatter().kind(account.kind()),
                account.title(),
                queryContext
                        .question()
                        .workspace()
                        .flatMap(queryContext.estate()::workspace)
                        .map(Workspace::name),
                queryContext.directory().tree().path(account.unit()).stream()
                        .map(u -> new NamedRef(u.id(), u.name()))
                        .toList(),
                accountReach.groups().keySet().stream()
                        .map(g -> new NamedRef(
                                g, queryContext.directory().group(g).name()))
                        .toList(),
                seats,
                ring(queryContext, account),
                account.consents().stream()
                        .filter(c -> c.holds(queryContext.question().at()))
                        .map(c -> new ConsentDetail(
                                consentTarget(queryContext, c),
                                queryContext.estateFormatter().day(c.at())))
                        .toList(),
                queryContext.estate().workspaces().stream()
                        .filter(w -> worksIn(account, accountReach, w))
                        .map(w -> new NamedRef(w.id(), w.name()))
                        .toList()));
    }

    private static SeatDetail seat(QueryContext queryContext, Allocation allocation, int number) {
        boolean seated = allocation.seated().contains(number);
        List<String> carries = new ArrayList<>();
        List<LeftOutComponent> leftOut = new ArrayList<>();
        for (String component : allocation.plan().components()) {
            String name = queryContext.estate().catalogue().entitlements().getOrDefault(component, component);
            if (allocation.carries(component, number)) carries.add(name);
            else if (seated && allocation.isInTerm())
                leftOut.add(new LeftOutComponent(name, allocation.rulesLeavingOut(component, number)));
        }
        return new SeatDetail(
                allocation.plan().id(),
                allocation.plan().name(),
                !seated ? AccountSeat.WAITING : allocation.isInTerm() ? AccountSeat.SEATED : AccountSeat.OUT_OF_TERM,
                allocation.granted(number).filter(granted -> seated).map(queryContext.estateFormatter()::day),
                allocation.firstRule(number),
                seated ? Optional.empty() : Optional.of(allocation.placeInLine(number)),
                carries,
                leftOut);
    }

    private static String consentTarget(QueryContext queryContext, Consent consent) {
        return consent.to() == Consent.ConsentTarget.RING
                ? queryContext.estate().ring(consent.id()).map(Ring::name).orElse(consent.id())
                : queryContext
                        .estate()
                        .catalogue()
                        .setting(consent.id())
                        .map(Setting::title)
                        .orElse(consent.id());
    }

    private static boolean worksIn(Account account, AccountReach accountReach, Workspace workspace) {
        return workspace.members().accounts().contains(account.id())
                || workspace.members().groups().stream().anyMatch(accountReach.groups()::containsKey);
    }

    private static Optional<AccountRing> ring(QueryContext queryContext, Account account) {
        List<Ring> rings = queryContext.estate().rings();
        if (rings.isEmpty()) return Optional.empty();
        String id = queryContext
                .estate()
                .catalogue()
                .setting(Setting.RING)
                .map(s -> ((Value.Choice) queryContext
                                .instantResolution()
                                .climber(account)
                                .outcome(s)
                                .value())
                        .option())
                .orElse(rings.get(rings.size() - 1).id());
        Ring ring = rings.stream().filter(r -> r.id().equals(id)).findFirst().orElseThrow();
        return Optional.of(new AccountRing(
                ring.id(),
                ring.name(),
                ring.asksConsent(),
                account.consents().stream()
                        .filter(c -> c.isToRing(id)
                                && c.holds(queryContext.question().at()))
                        .findFirst()
                        .map(c -> queryContext.estateFormatter().day(c.at()))));
    }

    /** Every setting of the account with its outcome, and whether it differs from what most of its unit have. */
    private Response settings(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(QueryParameters.about("format"));
        QueryContext queryContext = queries.read(queryParameters);
        Account account = queryContext.account(requestContext.path("id"));
        EstateFormatter estateFormatter = queryContext.estateFormatter();
        int number = queryContext.directory().number(account.id());
        RoaringBitmap unit = RoaringBitmap.and(
                queryContext.directory().inOrBelow(account.unit()),
                queryContext.directory().active());
        var columnResolver = queryContext.instantResolution().columnResolver();
        List<AccountSetting> rows = new ArrayList<>();
        for (Setting setting : queryContext.estate().catalogue().settings().values()) {
            var column = columnResolver.column(setting.key());
            Outcome outcome = column.of(number);
            Optional<Value> usual = usual(column.inForce(), unit).filter(u -> !u.equals(outcome.value()));
            rows.add(new AccountSetting(
                    setting.key(),
                    setting.title(),
                    setting.app(),
                    estateFormatter.value(setting, outcome.value()),
                    outcome.value().json(),
                    estateFormatter.value(setting, outcome.decided()),
                    outcome.standing(),
                    outcome.rung().kind(),
                    usual.isPresent(),
                    usual.map(u -> estateFormatter.value(setting, u)),
                    outcome.blockedBy().stream().map(estateFormatter::need).toList()));
        }
        if (queryParameters.isCsv())
            return Response.of(new CsvResponse(
                    "settings.csv",
                    CsvResponse.line("app", "setting", "value", "standing", "decided on", "most of the unit", "needs"),
                    rows.stream().map(row -> row.cells(queryContext)).toList()));
        return Response.of(new AccountSettings(queryContext.snapshot().change(), rows));
    }

    /** The value that more than half of these accounts have. */
    private static Optional<Value> usual(Map<Value, RoaringBitmap> inForce, RoaringBitmap accounts) {
        int half = accounts.getCardinality() / 2;
        return inForce.entrySet().stream()
                .filter(e -> RoaringBitmap.andCardinality(e.getValue(), accounts) > half)
                .map(Map.Entry::getKey)
                .findFirst();
    }
}
