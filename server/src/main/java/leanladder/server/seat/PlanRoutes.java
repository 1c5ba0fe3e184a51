package leanladder.server.seat;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import leanladder.edit.session.EditSession;
import leanladder.estate.Account;
import leanladder.estate.Plan;
import leanladder.seat.Allocation;
import leanladder.server.csvimport.CsvLines;
import leanladder.server.csvimport.ImportReport;
import leanladder.server.http.CsvResponse;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.paging.AccountPage;
import leanladder.server.paging.SearchTokens;
import leanladder.server.query.QueryContext;
import leanladder.server.seat.LicenceFindings.FindingView;
import leanladder.server.seat.PlanViews.PlanLine;
import leanladder.server.seat.PlanViews.PlanView;
import leanladder.server.state.Timeline;
import leanladder.server.today.TodoItem;
import leanladder.server.today.TodoSource;
import leanladder.server.usage.UsageReader;
import leanladder.store.Store;
import leanladder.store.journal.Change;
import leanladder.store.seats.MovedSeat;
import leanladder.store.seats.SeatTable;

/** Licence plans: what was bought, who holds a seat, who waits, what comes, and what became of the seats. */
public record PlanRoutes(Store store, Timeline timeline, QueryContext.Reader queries, UsageReader usage)
        implements RouteGroup, TodoSource {
    private static final Pattern DIGITS = Pattern.compile("\\d+");
    private static final int LONGEST = 12;
    private static final int MOVES_SHOWN = 200;
    private static final int MOVES_MOST = 2000;

    /** All plans in short, by name, and what is worth looking at. */
    public record PlanList(List<PlanLine> plans, List<FindingView> findings) {}

    /**
     * Somebody who has a seat, or wants one.
     *
     * @param since when the seat is held; missing for who waits
     * @param lastSeen the day on which the account used the suite last, where that is known
     * @param rule the first rule that names the account, from 1; 0 where none does
     * @param ruleWords whom that rule names
     * @param place in the line of those who wait, from 1; 0 for who is seated
     */
    public record Claim(
            String account,
            String displayName,
            String unit,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Instant> since,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<LocalDate> lastSeen,

            int rule,
            String ruleWords,
            int place) {}

    /** A page of claims. @param next to be sent as after; null on the last page */
    public record Claims(int accounts, List<Claim> claims, Optional<String> next) {}

    /** A seat that passed on. @param author of the change that moved it */
    public record LedgerMove(
            long change,
            Instant at,
            String author,
            String plan,
            String planName,
            String account,
            String displayName,
            boolean given,
            String because) {}

    /** Seats that passed on, the newest first. */
    public record LedgerMoveList(List<LedgerMove> moves) {}

    @Override
    public List<TodoItem> of(QueryContext queryContext) {
        return LicenceFindings.today(queryContext);
    }

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/plans", this::list, PlanList.class);
        routeRegistry.get("/plans/{plan}", this::one, PlanView.class);
        routeRegistry.get("/plans/{plan}/claims", this::claims, Claims.class);
        routeRegistry.get("/plans/{plan}/moves", this::moves, LedgerMoveList.class);
        routeRegistry.get("/plans/{plan}/purchases", this::purchases);
        routeRegistry.get("/plans/{plan}/rules", this::rules);
        routeRegistry.postReadOnly("/plans/{plan}/imports/{what}", this::read, ImportReport.ImportResult.class);
        routeRegistry.get("/changes/{number}/seats", this::movedBy, LedgerMoveList.class);
    }

    private Response list(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        return Response.of(new PlanList(
                queryContext.instantResolution().entitlements().allocations().stream()
                        .map(a -> PlanViews.line(queryContext, a))
                        .sorted(java.util.Comparator.comparing(PlanLine::name, PlanRoutes::asRead)
                                .thenComparing(PlanLine::id))
                        .toList(),
                LicenceFindings.findAll(queryContext, usage)));
    }

    /** Names in the order in which people read them: 2 comes before 10. */
    private static int asRead(String one, String other) {
        return padded(one).compareToIgnoreCase(padded(other));
    }

    private static String padded(String name) {
        return DIGITS.matcher(name)
                .replaceAll(m -> "0".repeat(Math.max(0, LONGEST - m.group().length())) + m.group());
    }

    private static Allocation allocation(RequestContext requestContext, QueryContext queryContext) {
        String id = requestContext.path("plan");
        return queryContext
                .instantResolution()
                .entitlements()
                .allocation(id)
                .orElseThrow(() -> ProblemException.unknown("There is no plan \"" + id + "\"."));
    }

    private Response one(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        return Response.of(PlanViews.view(queryContext, allocation(requestContext, queryContext)));
    }

    private Response claims(RequestContext requestContext) {
        QueryParameters queryParameters =
                requestContext.query(QueryParameters.about("which", "q", "limit", "after", "format"));
        QueryContext queryContext = queries.read(queryParameters);
        Allocation allocation = allocation(requestContext, queryContext);
        boolean waiting = queryParameters
                .word("which", List.of("held", "waiting"))
                .orElse("held")
                .equals("waiting");
        List<String> ids = waiting ? allocation.waiting() : allocation.seatedInOrder();
        Map<String, Integer> places = new HashMap<>();
        if (waiting) for (String id : ids) places.put(id, places.size() + 1);
        var fits = SearchTokens.fitting(queryParameters.one("q").orElse(""));
        List<Account> accounts = ids.stream()
                .map(id -> queryContext.estate().account(id).orElseThrow())
                .filter(a -> fits.test(a.displayName() + " " + a.userName()))
                .toList();
        if (queryParameters.isCsv())
            return Response.of(new CsvResponse(
                    allocation.plan().id() + (waiting ? "-waiting.csv" : "-holders.csv"),
                    List.of("name", "address", "unit", waiting ? "place" : "since", "last seen", "rule"),
                    AccountPage.lines(accounts, a -> {
                        Claim claim = claim(queryContext, allocation, a, places);
                        return CsvResponse.line(
                                a.displayName(),
                                a.userName(),
                                claim.unit,
                                waiting
                                        ? String.valueOf(claim.place)
                                        : claim.since.map(Instant::toString).orElse(""),
                                claim.lastSeen.map(LocalDate::toString).orElse(""),
                                claim.ruleWords);
                    })));
        AccountPage page = AccountPage.parse(queryParameters);
        return Response.of(new Claims(
                accounts.size(),
                page.parse(accounts).stream()
                        .map(a -> claim(queryContext, allocation, a, places))
                        .toList(),
                page.next(accounts)));
    }

    private static Claim claim(
            QueryContext queryContext, Allocation allocation, Account account, Map<String, Integer> places) {
        int number = queryContext.directory().number(account.id());
        Plan plan = allocation.plan();
        int rule = allocation.firstRule(number).orElse(0);
        return new Claim(
                account.id(),
                account.displayName(),
                AccountPage.place(queryContext.directory(), account.unit()),
                allocation.granted(number),
                account.lastSeen(),
                rule,
                rule == 0
                        ? ""
                        : PlanViews.name(
                                queryContext,
                                plan.rules().get(rule - 1).assignment().target()),
                places.getOrDefault(account.id(), 0));
    }

    private Response moves(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(Set.of("limit"));
        String plan = requestContext.path("plan");
        List<SeatTable.SeatTransfer> passed =
                store.seats().ofPlan(plan, queryParameters.number("limit", MOVES_SHOWN, MOVES_MOST));
        return Response.of(new LedgerMoveList(told(passed)));
    }

    private Response movedBy(RequestContext requestContext) {
        requestContext.query(Set.of());
        String text = requestContext.path("number");
        if (!text.matches("\\d{1,18}")) throw ProblemException.unknown("There is no change \"" + text + "\".");
        long number = Long.parseLong(text);
        if (store.journal().change(number).isEmpty())
            throw ProblemException.unknown("There is no change " + number + ".");
        return Response.of(new LedgerMoveList(told(store.seats().movedBy(number).stream()
                .map(m -> new SeatTable.SeatTransfer(number, m))
                .toList())));
    }

    /** Names as they are now; of what is no more, the id. */
    private List<LedgerMove> told(List<SeatTable.SeatTransfer> passed) {
        QueryContext now = queries.read(QueryParameters.none());
        Map<Long, Optional<Change>> changes = new HashMap<>();
        List<LedgerMove> told = new ArrayList<>();
        for (SeatTable.SeatTransfer one : passed) {
            MovedSeat seat = one.seat();
            Optional<Change> change = changes.computeIfAbsent(one.change(), store.journal()::change);
            told.add(new LedgerMove(
                    one.change(),
                    change.map(Change::at).orElse(Instant.EPOCH),
                    change.map(Change::author).orElse(""),
                    seat.plan(),
                    now.estate().plan(seat.plan()).map(Plan::name).orElse(seat.plan()),
                    seat.account(),
                    now.estate()
                            .account(seat.account())
                            .map(Account::displayName)
                            .orElse(seat.account()),
                    seat.given(),
                    seat.because()));
        }
        return told;
    }

    private Response purchases(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about("format")));
        PlanView view = PlanViews.view(queryContext, allocation(requestContext, queryContext));
        return Response.of(new CsvResponse(
                view.plan().id() + "-purchases.csv",
                List.of("seats", "from", "until", "note"),
                AccountPage.lines(
                        view.purchases(),
                        p -> CsvResponse.line(
                                String.valueOf(p.seats()),
                                p.from().map(Instant::toString).orElse(""),
                                p.until().map(Instant::toString).orElse(""),
                                p.note()))));
    }

    private Response read(RequestContext requestContext) throws IOException {
        QueryParameters queryParameters = requestContext.query(Set.of("draft", "name", "columns"));
        String what = requestContext.path("what");
        if (!List.of("rules", "purchases").contains(what))
            throw ProblemException.unknown("Only rules and purchases of a plan can be read from a file.");
        QueryContext queryContext = queries.read(queryParameters);
        String plan = allocation(requestContext, queryContext).plan().id();
        EditSession editSession = timeline.editSession(queryContext.snapshot());
        CsvLines.CsvFile file = CsvLines.parse(
                requestContext.body(Limits.FILE), PlanCsvImport.columns(what), queryParameters.one("columns"));
        PlanCsvImport reader = new PlanCsvImport(queryContext.estate(), editSession, plan, file.lines());
        return Response.of(ImportReport.compute(
                file,
                editSession,
                queryParameters.one("name").orElse("a file"),
                what.equals("rules") ? reader::rule : reader::purchase));
    }

    private Response rules(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about("format")));
        PlanView view = PlanViews.view(queryContext, allocation(requestContext, queryContext));
        return Response.of(new CsvResponse(
                view.plan().id() + "-rules.csv",
                List.of("kind", "target", "name", "off", "from", "until", "accounts"),
                AccountPage.lines(
                        view.rules(),
                        r -> CsvResponse.line(
                                r.include() ? "include" : "except",
                                r.target(),
                                r.whom(),
                                String.join(
                                        " ", r.off().stream().map(o -> o.id()).toList()),
                                r.from().map(Instant::toString).orElse(""),
                                r.until().map(Instant::toString).orElse(""),
                                String.valueOf(r.accounts())))));
    }
}
